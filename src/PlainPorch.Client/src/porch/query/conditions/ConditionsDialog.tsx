import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { countQuery, fieldsQuery, readingQuery, type PanelAddress } from "../../../api/queries";
import { Button } from "../../../ui/Button";
import { DialogFrame } from "../../../ui/DialogFrame";
import { Failure } from "../../../ui/Failure";
import { Loading } from "../../../ui/Loading";
import { useSettled } from "../../../ui/useSettled";
import { describeCount } from "../ListFooter";
import type { ListView } from "../../../api/listView";
import { ConditionGroup } from "./ConditionGroup";
import { newTest, readTree, writeTree, type Group } from "./tree";

interface ConditionsDialogProps {
  address: PanelAddress;
  view: ListView;
  onShow: (where: string) => void;
  onClose: () => void;
}

const PAUSE_MS = 300;

/** Puts conditions together, saying meanwhile how they are read and how many records they leave. */
export function ConditionsDialog({ address, view, onShow, onClose }: ConditionsDialogProps) {
  const fields = useQuery(fieldsQuery(address));
  return (
    <DialogFrame title="Conditions" onOpenChange={onClose} isWide>
      {fields.isPending && <Loading what="the fields" />}
      {fields.isError && <Failure error={fields.error} onRetry={() => void fields.refetch()} />}
      {fields.data && <Editor address={address} view={view} fields={fields.data} onShow={onShow} onClose={onClose} />}
    </DialogFrame>
  );
}

interface EditorProps extends ConditionsDialogProps {
  fields: Parameters<typeof ConditionGroup>[0]["fields"];
}

function Editor({ address, view, fields, onShow, onClose }: EditorProps) {
  const [tree, setTree] = useState<Group>(() => {
    const known = readTree(view.where);
    return known.parts.length > 0 ? known : { ...known, parts: [newTest(fields[0])] };
  });
  const where = useSettled(writeTree(tree), PAUSE_MS);
  const reading = useQuery({ ...readingQuery(address, where), placeholderData: keepPreviousData });
  const isUnderstood = reading.data?.problems.length === 0;
  const count = useQuery({
    ...countQuery(address, { ...view, where }),
    enabled: isUnderstood && !reading.isPlaceholderData,
  });
  const form = useRef<HTMLFormElement>(null);
  useEffect(() => {
    form.current?.querySelector<HTMLElement>('[aria-label="Field"]')?.focus();
  }, []);
  return (
    <form
      ref={form}
      className="mt-3 grid gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        onShow(writeTree(tree));
      }}
    >
      <ConditionGroup
        group={tree}
        fields={fields}
        depth={1}
        onChange={(group) => {
          setTree(group);
        }}
      />
      <div role="status" className="min-h-12 border-l-4 border-line pl-3">
        {reading.data && reading.data.says.length > 0 && <p>{reading.data.says.join(" · and · ")}</p>}
        {reading.data?.problems.map((problem) => (
          <p key={problem.message} className="text-danger">
            {problem.message}
          </p>
        ))}
        {isUnderstood && count.data && <p className="text-faint">{describeCount(count.data)} records</p>}
        {reading.isError && <Failure error={reading.error} />}
      </div>
      <div className="flex flex-wrap justify-end gap-2">
        {view.where !== "" && (
          <Button
            className="mr-auto"
            onClick={() => {
              onShow("");
            }}
          >
            Clear all
          </Button>
        )}
        <Button onClick={onClose}>Cancel</Button>
        <Button tone="next" type="submit">
          Apply
        </Button>
      </div>
    </form>
  );
}
