import type { Schemas, Source, SourceRequest } from "../../api/client";
import { ApiError } from "../../api/problems";
import { Button, ButtonLink } from "../../ui/Button";
import { formatCount } from "../../values/format";
import { Field, inputClass } from "../../ui/Field";
import { Notice } from "../../ui/Notice";
import { PasteConnection } from "./PasteConnection";
import { SameDatabase } from "./SameDatabase";
import { useSourceForm } from "./useSourceForm";

const tlsModes: Record<Schemas["TlsMode"], string> = {
  disable: "never",
  prefer: "if offered",
  require: "always, any certificate",
  verifyCa: "always, certificate of a known authority",
  verifyFull: "always, certificate of a known authority for this host",
};

/** All that is to be known of a source, with a trial before it is saved. */
export function SourceForm({ source }: { source: Source | null }) {
  const form = useSourceForm(source);
  const { fields, port, schemas, set, trial, save, failure, errors } = form;
  const text = (name: "name" | "host" | "database" | "user", label: string, hint?: string) => (
    <Field label={label} hint={hint} error={errors[name]}>
      {(slots) => (
        <input
          {...slots}
          name={name}
          className={inputClass}
          autoComplete="off"
          spellCheck={false}
          value={fields[name]}
          onChange={(event) => {
            set({ [name]: event.target.value });
          }}
        />
      )}
    </Field>
  );

  return (
    <form
      noValidate
      className="grid max-w-3xl gap-5"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <title>{`${source ? source.name : "Add a source"} · Plain Porch`}</title>
      <h1 className="text-2xl font-semibold">{source ? `Settings of ${source.name}` : "Add a source"}</h1>
      <PasteConnection
        onRead={(read) => {
          form.take(read);
        }}
      />
      {text("name", "Name", "What you call it, such as the office that it belongs to.")}
      <div className="grid gap-4 sm:grid-cols-[1fr_8rem]">
        {text("host", "Host")}
        <Field label="Port" error={errors.port}>
          {(slots) => (
            <input
              {...slots}
              name="port"
              inputMode="numeric"
              className={inputClass}
              value={port}
              onChange={(event) => {
                form.setPort(event.target.value);
              }}
            />
          )}
        </Field>
      </div>
      {text("database", "Database")}
      <SameDatabase
        error={errors.isSameDatabase}
        chosen={fields.isSameDatabase ?? null}
        onChoose={(isSameDatabase) => {
          set({ isSameDatabase });
        }}
      />
      <div className="grid gap-4 sm:grid-cols-2">
        {text("user", "User")}
        <Field
          label="Password"
          error={errors.password}
          hint={
            source?.hasPassword
              ? "A password is stored. Leave this empty to keep using it."
              : source
                ? "No password is stored, or it can no longer be decrypted, for example because the catalog was moved without its keys. Enter it again."
                : "Stored encrypted. Leave empty if the server needs none."
          }
        >
          {(slots) => (
            <input
              {...slots}
              name="password"
              type="password"
              autoComplete="off"
              className={inputClass}
              value={fields.password ?? ""}
              onChange={(event) => {
                set({ password: event.target.value === "" ? null : event.target.value });
              }}
            />
          )}
        </Field>
      </div>
      <div className="grid gap-4 sm:grid-cols-2">
        <Field label="Encrypted connection (TLS)" error={errors.tls}>
          {(slots) => (
            <select
              {...slots}
              name="tls"
              className={inputClass}
              value={fields.tls}
              onChange={(event) => {
                set({ tls: event.target.value as SourceRequest["tls"] });
              }}
            >
              {Object.entries(tlsModes).map(([mode, label]) => (
                <option key={mode} value={mode}>
                  {label}
                </option>
              ))}
            </select>
          )}
        </Field>
        <Field label="Schemas" error={errors.schemas} hint="Separated by commas. Leave empty for all schemas.">
          {(slots) => (
            <input
              {...slots}
              name="schemas"
              className={inputClass}
              autoComplete="off"
              spellCheck={false}
              value={schemas}
              onChange={(event) => {
                form.setSchemas(event.target.value);
              }}
            />
          )}
        </Field>
      </div>
      <label className="flex min-h-8 items-center gap-2">
        <input
          type="checkbox"
          name="isReadOnly"
          className="size-5 accent-accent"
          checked={fields.isReadOnly}
          onChange={(event) => {
            set({ isReadOnly: event.target.checked });
          }}
        />
        Read-only: never write to this database
      </label>
      {trial.data && <Findings findings={trial.data} />}
      {failure && !(failure instanceof ApiError && failure.status === 400) && (
        <Notice tone="danger" title="Something went wrong">
          {failure instanceof ApiError && failure.status === 412
            ? "Somebody else has changed this source in the meantime. Reopen its settings to see the current ones."
            : failure.message}
        </Notice>
      )}
      <div className="flex flex-wrap gap-2">
        <Button
          disabled={trial.isPending}
          onClick={() => {
            save.reset();
            trial.mutate();
          }}
        >
          {trial.isPending ? "Trying …" : "Test connection"}
        </Button>
        <Button tone="next" type="submit" disabled={save.isPending}>
          {save.isPending ? "Reading the schema …" : source ? "Save" : "Add and read the schema"}
        </Button>
        <ButtonLink to={source ? `/back/sources/${source.id}` : "/back/sources"}>Cancel</ButtonLink>
      </div>
    </form>
  );
}

function Findings({ findings }: { findings: Schemas["ProbeFindings"] }) {
  const { serverVersion, tables, views, readable, writable } = findings;
  return (
    <Notice title="The connection works.">
      PostgreSQL {serverVersion}. {tables === 1 ? "1 table" : `${formatCount(tables)} tables`} and{" "}
      {views === 1 ? "1 view" : `${formatCount(views)} views`}; this user can read {formatCount(readable)} of them and
      change {formatCount(writable)}.
    </Notice>
  );
}
