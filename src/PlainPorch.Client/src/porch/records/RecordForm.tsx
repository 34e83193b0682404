import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useEffectEvent, useRef, useState, type KeyboardEvent } from "react";
import { newOnceKey } from "../../api/acts";
import { api, ifMatch, once, unwrap, type Column, type Panel, type RecordView, type Schemas } from "../../api/client";
import { ApiError, NoConnectionError } from "../../api/problems";
import { recordQuery, type PanelAddress } from "../../api/queries";
import { useRecordsChanged } from "../../api/recordsChanged";
import { Button } from "../../ui/Button";
import { Field } from "../../ui/Field";
import { Notice } from "../../ui/Notice";
import { nameOf, type FormParts } from "./belonging";
import { BelongingLines } from "./BelongingLines";
import { ConflictNotice } from "./ConflictNotice";
import { LeaveDialog } from "./LeaveDialog";
import { Extension } from "./Extension";
import { FieldButton, FormSection, placeOf } from "./FormSection";
import { sectionsOf } from "./formSections";
import { FieldInput } from "./FieldInput";
import { settleAll, type Unsettled } from "./useLookup";
import { bareOf } from "../../api/bare";
import { typingPlace } from "./keptTyping";
import { TypingNotice } from "./TypingNotice";
import { useKeptTyping } from "./useKeptTyping";
import { unreadableIn } from "../../values/unreadable";
import { useRecordDraft } from "./useRecordDraft";
import { useTypedRules } from "./useTypedRules";
import { useSavingByItself } from "./useSavingByItself";
import { inputKind, isOpen, toInput } from "../../values/input";
import { oddTyping } from "./oddTyping";
import { inputHint } from "./ValueInput";

interface RecordFormProps {
  address: PanelAddress;
  panel: Panel;
  /** The record to change; null to add one. */
  record: RecordView | null;
  /** Values that new records of other panels begin with which are typed in the same form, by what they are called there. */
  begun?: Record<string, Record<string, string>[]>;
  /** Whether it stands in a dialog over another form. */
  isNested?: boolean;
  /** Whether it stands beside something else, so that one column is all there is room for. */
  isNarrow?: boolean;
  /** Whether it is only tried out: nothing is saved, and nothing kept. */
  isTrial?: boolean;
  /** Values that a new record gets unless they are typed over. */
  proposed?: Record<string, string>;
  /** Values that a new record is begun with, as if they had been typed. */
  given?: Record<string, string>;
  /** The column whose field is typed into first; the first one where it is none of the form's. */
  focus?: string | undefined;
  /** What can be done at once after saving, as "Save and next"; nothing where it is missing. */
  goOn?: string | undefined;
  /** The columns whose values the next record begins with, and a way to choose them; missing where none follows. */
  keeping?: { columns: ReadonlySet<string>; turn: (column: string) => void };
  /** Called with the saved record, whether to go on to the next one, and the column that was typed into last. */
  onSaved: (record: RecordView | null, goesOn: boolean, focus: string | undefined) => void;
  onCancel: () => void;
}

const none = bareOf<string>([]);

/** Adds or changes a record. Errors come back to their fields, and nothing that was typed is lost. */
export function RecordForm({
  address,
  panel,
  record,
  isNested = false,
  isNarrow = false,
  isTrial = false,
  proposed = none,
  given = none,
  begun,
  focus,
  goOn,
  keeping,
  onSaved,
  onCancel,
}: RecordFormProps) {
  const columns = [...panel.columns.filter((column) => column.inForm && column.stamp === null), ...panel.secrets];
  const [outOfSight, setOutOfSight] = useState<ReadonlySet<string>>(new Set());
  const draft = useRecordDraft(columns, record, proposed, given, outOfSight);
  const hidden = draft.hidden;
  const kept = useKeptTyping(
    isTrial ? null : typingPlace(address.porch, address.panel, record?.key ?? null),
    columns,
    draft,
  );
  const form = useRef<HTMLFormElement>(null);
  const unsettled = useRef<Unsettled>(new Map());
  const client = useQueryClient();
  const changed = useRecordsChanged();

  // Under one key the form is saved once, however often it is sent.
  const key = useRef(newOnceKey());
  const isSending = useRef(false);
  const goesOn = useRef(false);
  const lastField = useRef<string>(undefined);
  const [unreadable, setUnreadable] = useState<ReadonlyMap<string, string>>(new Map());

  // What other panels' records say that are typed here, too; beside a form in a dialog there is no room for them.
  const parts = useRef<FormParts>(new Map());
  const [typedParts, setTypedParts] = useState<ReadonlySet<string>>(new Set());
  const onTyped = useCallback((name: string, isTyped: boolean) => {
    setTypedParts((before) => {
      if (before.has(name) === isTyped) return before;
      return new Set(isTyped ? [...before, name] : [...before].filter((one) => one !== name));
    });
  }, []);
  const belonging = useRef<Schemas["BelongingRequest"][]>([]);

  const save = useMutation({
    mutationFn: () => write(address, draft.base, draft.changes, belonging.current, key.current),
    // Once it is saved, the form is left, however long that takes: a key that is held down must not save it anew.
    onError: () => {
      isSending.current = false;
    },
    onSuccess: async (saved) => {
      key.current = newOnceKey();
      kept.drop();
      for (const part of parts.current.values()) part.drop();
      await changed(address.porch);
      if (saved) client.setQueryData(recordQuery(address, saved.key).queryKey, saved);
      onSaved(saved ?? null, goesOn.current, lastField.current);
    },
  });
  const itself = useSavingByItself({
    isOn: panel.savesWhileTyping && record !== null && !isNested && !isTrial && !panel.byPlace,
    draft,
    isReady: () => !save.isPending && unsettled.current.size === 0 && unreadableIn(form.current).size === 0,
    write: (base, changes, once) => write(address, base, changes, [], once),
    onSaved: (saved) => {
      if (typedParts.size === 0) kept.forget();
      client.setQueryData(recordQuery(address, saved.key).queryKey, saved);
      void changed(address.porch);
    },
  });
  const conflict = save.error instanceof ApiError && save.error.status === 412 ? (save.error.body as RecordView) : null;
  const refused = save.error instanceof ApiError && save.error.status === 400 ? save.error.fields : bareOf<string>([]);
  const rules = useTypedRules({
    address,
    record,
    changes: draft.changes,
    isOn: panel.hasRules && !isTrial && !save.isPending,
    isFromStart: panel.hasFieldRules,
  });
  const { problems: soFar, computed, hidden: hiddenNow, starts } = rules;
  // While it is being saved nothing is asked, and nothing comes or goes.
  if (!save.isPending && hiddenNow !== outOfSight) setOutOfSight(hiddenNow);
  const begin = useEffectEvent(draft.begin);
  useEffect(() => {
    if (record === null) begin(starts);
  }, [record, starts]);
  // What is only told while one types must not hide why saving failed.
  const refusedAt = (name: string) => unreadable.get(name) ?? refused[name] ?? itself.refused[name];
  const errorOf = (name: string) => refusedAt(name) ?? soFar[name];
  const atFields = columns.filter((column) => refusedAt(column.name) !== undefined);
  const isAtAPart =
    !isNested &&
    Object.keys(refused).some((field) => panel.typed.some((typed) => field.startsWith(`${nameOf(typed)}.`)));
  const elsewhere =
    save.error && !conflict && atFields.length === 0 && !isAtAPart
      ? save.error.message
      : (refused[""] ?? soFar[""] ?? null);
  const isUnsure = save.error instanceof NoConnectionError;

  useEffect(() => {
    if (save.isError || unreadable.size > 0)
      form.current?.querySelector<HTMLElement>("[aria-invalid=true], [role=alert] button")?.focus();
  }, [save.isError, save.error, unreadable]);

  const isNew = record === null;
  // An empty secret stays as it is.
  const isWanted = (column: Column) =>
    isOpen(column) &&
    (column.mustBeGiven || rules.required.has(column.name)) &&
    !(column.name in proposed) &&
    (isNew || !column.isSecret);
  const undo = (column: Column) => {
    draft.untype(column);
    if (unreadable.has(column.name)) setUnreadable(new Map([...unreadable].filter(([name]) => name !== column.name)));
    form.current?.querySelector<HTMLElement>(`[data-column="${CSS.escape(column.name)}"]`)?.focus();
  };
  useEffect(() => {
    const fields = [...(form.current?.querySelectorAll<HTMLInputElement>("input, textarea, select") ?? [])];
    // What is filled in already, such as the next free number, wants no typing.
    // Beside what is being set up it takes no focus.
    if (isTrial) return;
    const wanted =
      fields.find((field) => field.dataset["column"] === focus) ??
      fields.find((field) => isNew && field.value === "") ??
      fields[0];
    wanted?.focus();
    if (focus !== undefined && wanted?.dataset["column"] === focus) wanted.select();
  }, [isNew, isTrial, focus]);

  // What fields are filled in with follows what was typed, which may be just now.
  const [isAwaited, setAwaited] = useState(false);
  useEffect(() => {
    if (rules.isBehind || !isAwaited) return;
    const timer = setTimeout(() => {
      setAwaited(false);
      form.current?.requestSubmit();
    });
    return () => {
      clearTimeout(timer);
    };
  }, [rules.isBehind, isAwaited]);
  const isSaving = save.isPending || isAwaited;
  const submit = () => {
    if (isSending.current || isTrial) return;
    if (record === null && panel.hasFieldRules && rules.isBehind) {
      setAwaited(true);
      return;
    }
    const under = itself.pending();
    if (under) {
      void under.then(() => setTimeout(() => form.current?.requestSubmit()));
      return;
    }
    const found = unreadableIn(form.current);
    setUnreadable(found);
    if (found.size > 0) return;
    if (unsettled.current.size > 0) {
      void settleAll(unsettled.current).then((lost) => {
        const field = lost && form.current?.querySelector<HTMLElement>(`[data-column="${CSS.escape(lost)}"]`);
        if (field) field.focus();
        // What was just chosen is in the form after the next drawing.
        else setTimeout(() => form.current?.requestSubmit());
      });
      return;
    }
    if (parts.current.size === 0) {
      send();
      return;
    }
    isSending.current = true;
    void Promise.all([...parts.current.values()].map((part) => part.settle())).then((settled) => {
      // What was just chosen is in the parts after the next drawing. A tab that is not seen draws nothing, and has timers.
      setTimeout(() => {
        isSending.current = false;
        if (settled.every(Boolean)) send();
        else focusWrong();
      });
    });
  };
  const focusWrong = () => {
    setTimeout(() => form.current?.querySelector<HTMLElement>("[aria-invalid=true]")?.focus());
  };
  const send = () => {
    const read = [...parts.current.values()].map((part) => part.read());
    if (read.includes("wrong")) {
      focusWrong();
      return;
    }
    belonging.current = read.filter((one) => one !== null && one !== "wrong");
    if (draft.base && !draft.isDirty && belonging.current.length === 0) {
      if (goesOn.current) onSaved(draft.base, true, lastField.current);
      else onCancel();
    } else {
      isSending.current = true;
      save.mutate();
    }
  };
  // Wherever the focus is: the browser would save the page as a file instead.
  useEffect(() => {
    const saveByKey = (event: globalThis.KeyboardEvent) => {
      if (event.key !== "s" || !(event.ctrlKey || event.metaKey)) return;
      const dialogs = [...document.querySelectorAll("[role=dialog], [role=alertdialog]")];
      if (dialogs.length > 0 && !dialogs.at(-1)?.contains(form.current)) return;
      event.preventDefault();
      goesOn.current = false;
      form.current?.requestSubmit();
    };
    // On its way down: a form in a dialog keeps its keys from the one below.
    window.addEventListener("keydown", saveByKey, true);
    return () => {
      window.removeEventListener("keydown", saveByKey, true);
    };
  }, []);
  const onKeyDown = (event: KeyboardEvent) => {
    if ((event.ctrlKey || event.metaKey) && event.key === "Enter") {
      event.preventDefault();
      goesOn.current = goOn !== undefined;
      submit();
    } else if (keeping && event.altKey && event.key.toLowerCase() === "k") {
      event.preventDefault();
      const { column } = (event.target as HTMLElement).dataset;
      if (column !== undefined) keeping.turn(column);
    } else if (!isNew && event.altKey && event.key.toLowerCase() === "z") {
      event.preventDefault();
      const typedInto = columns.find(({ name }) => name === (event.target as HTMLElement).dataset["column"]);
      if (typedInto) undo(typedInto);
    } else if (event.key === "Escape") {
      event.preventDefault();
      onCancel();
    }
  };

  return (
    <form
      ref={form}
      noValidate
      aria-busy={isSaving}
      className="grid max-w-3xl gap-5 [&_:is(input,textarea,select,button,[contenteditable])]:scroll-mb-20"
      onKeyDown={onKeyDown}
      onFocus={({ target }) => {
        lastField.current = target.dataset["column"] ?? lastField.current;
      }}
      onBlur={itself.onLeave}
      onSubmit={(event) => {
        event.preventDefault();
        submit();
      }}
    >
      {kept.offer && <TypingNotice offer={kept.offer} />}
      {elsewhere && (
        <Notice
          tone="danger"
          title={
            isUnsure
              ? "It is not known whether this was saved."
              : save.isError
                ? "This was not saved."
                : "This cannot be saved as it is."
          }
        >
          {elsewhere}
          {isUnsure && " Save again once the server is back. It will not be saved twice."}
        </Notice>
      )}
      {conflict && draft.base && (
        <ConflictNotice
          columns={columns}
          base={draft.base}
          current={conflict}
          changes={draft.changes}
          onKeepMine={() => {
            draft.rebase(conflict, true);
            save.reset();
          }}
          onTakeTheirs={() => {
            draft.rebase(conflict, false);
            save.reset();
          }}
        />
      )}
      {sectionsOf(columns.filter(({ name }) => !hidden.has(name))).map(({ section, columns: members }) => (
        <FormSection
          key={section}
          section={section}
          isNarrow={isNarrow}
          isFolded={panel.folded.includes(section)}
          mustBeOpen={members.some((column) => errorOf(column.name) !== undefined || isWanted(column))}
          filled={members.filter((column) => draft.typedOf(column) !== "").length}
        >
          {members.map((column) => {
            const kind = draft.kindOf(column);
            const typed = draft.typedOf(column);
            return (
              <div key={column.name} className={isNarrow ? "min-w-0" : placeOf(column, kind)}>
                <Field
                  label={column.label}
                  needed={isWanted(column)}
                  hint={
                    draft.base?.notComputed?.[column.name] ??
                    (column.name in proposed
                      ? "The next free number. If somebody else takes it first, the record gets the one after."
                      : inputHint(column, kind, isNew))
                  }
                  warning={draft.isChanged(column) ? oddTyping(column, kind, typed) : null}
                  error={errorOf(column.name)}
                  aside={
                    <span className="flex gap-2">
                      {draft.isChanged(column) && !isNew && (
                        <FieldButton
                          label={`Undo the typing in ${column.label}`}
                          title="Back to what is stored (Alt + Z)"
                          onPress={() => {
                            undo(column);
                          }}
                        >
                          undo
                        </FieldButton>
                      )}
                      {keeping && column.isWritable && !column.isSecret && !panel.identity.includes(column.name) && (
                        <FieldButton
                          label={`Keep ${column.label} for the next record`}
                          title="Keep for the next record (Alt + K)"
                          isOn={keeping.columns.has(column.name)}
                          onPress={() => {
                            keeping.turn(column.name);
                          }}
                        >
                          {keeping.columns.has(column.name) ? "kept" : "keep"}
                        </FieldButton>
                      )}
                    </span>
                  }
                >
                  {(slots) => (
                    <FieldInput
                      {...slots}
                      address={address}
                      column={column}
                      kind={kind}
                      typed={typed}
                      present={(column.name in computed ? computed : draft.base?.values)?.[column.name] ?? null}
                      known={draft.base?.lookups[column.name]}
                      record={draft.base}
                      isNew={isNew}
                      unsettled={unsettled}
                      valueIn={draft.valueIn}
                      hasRoom
                      onOthers={(values) => {
                        for (const [name, value] of Object.entries(values)) {
                          const other = panel.columns.find((known) => known.name === name);
                          if (other?.isWritable)
                            draft.type(other, other.isLookup ? value : toInput(inputKind(other, value), value));
                        }
                      }}
                      onType={(text) => {
                        draft.type(column, text);
                        if (unreadable.has(column.name)) setUnreadable(unreadableIn(form.current));
                      }}
                    />
                  )}
                </Field>
              </div>
            );
          })}
        </FormSection>
      ))}
      {!isNested &&
        panel.typed.map((typed) => {
          const name = nameOf(typed);
          const place = isTrial
            ? null
            : `${typingPlace(address.porch, address.panel, record?.key ?? null)} with ${name}`;
          return typed.isOne ? (
            <Extension
              key={name}
              porch={address.porch}
              typed={typed}
              record={record}
              place={place}
              isNarrow={isNarrow}
              parts={parts}
              refused={refused}
              onTyped={onTyped}
            />
          ) : (
            <BelongingLines
              key={name}
              porch={address.porch}
              typed={typed}
              place={place}
              parts={parts}
              refused={refused}
              onTyped={onTyped}
              {...(begun?.[name] && { begun: begun[name] })}
            />
          );
        })}
      {!isTrial && (
        <div
          className={`sticky bottom-0 -mx-4 flex flex-wrap items-center gap-2 border-t border-line px-4 py-3 sm:mx-0 sm:px-0 ${isNested ? "bg-sheet" : "bg-paper"}`}
        >
          <Button
            tone="next"
            type="submit"
            disabled={isSaving}
            onClick={() => {
              goesOn.current = false;
            }}
          >
            {isSaving ? "Saving …" : record ? "Save changes" : `Add ${panel.recordLabel}`}
          </Button>
          {goOn && (
            <Button
              type="submit"
              disabled={isSaving}
              title={`${goOn} (Ctrl + Enter)`}
              onClick={() => {
                goesOn.current = true;
              }}
            >
              {goOn}
            </Button>
          )}
          <Button onClick={onCancel}>{itself.says !== null && !draft.isDirty ? "Close" : "Cancel"}</Button>
          {itself.says !== null && (
            <span role="status" className="text-sm text-faint" data-saving>
              {itself.says}
            </span>
          )}
          <span className={`ml-auto hidden text-sm text-faint ${isNarrow ? "" : "sm:inline"}`}>
            Ctrl + S saves{goOn && ", Ctrl + Enter goes on"}, Escape cancels
          </span>
        </div>
      )}
      {!isNested && !isTrial && (
        <LeaveDialog
          unsaved={[
            ...columns.filter((column) => draft.touched.includes(column.name)).map((column) => column.label),
            ...panel.typed.filter((typed) => typedParts.has(nameOf(typed))).map(({ label }) => label),
          ]}
          onDiscard={() => {
            kept.drop();
            for (const part of parts.current.values()) part.drop();
          }}
        />
      )}
    </form>
  );
}

function write(
  address: PanelAddress,
  base: RecordView | null,
  values: Record<string, string | null>,
  belonging: Schemas["BelongingRequest"][],
  key: string,
): Promise<RecordView | undefined> {
  if (base === null)
    return unwrap(
      api.POST("/api/porches/{porch}/panels/{panel}/records", {
        params: { path: address, header: once(key) },
        body: { values, belonging: belonging.length === 0 ? null : belonging },
      }),
    );
  return unwrap(
    api.PUT("/api/porches/{porch}/panels/{panel}/records/{key}", {
      params: { path: { ...address, key: base.key }, header: { ...ifMatch(base.version), ...once(key) } },
      body: { values, belonging: belonging.length === 0 ? null : belonging },
    }),
  );
}
