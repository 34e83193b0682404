import { useMutation } from "@tanstack/react-query";
import { useContext, useEffect, useRef, useState } from "react";
import { api, unwrap, type Schemas } from "../../api/client";
import type { PanelAddress } from "../../api/queries";
import { Button } from "../../ui/Button";
import { Failure } from "../../ui/Failure";
import { Notice } from "../../ui/Notice";
import { formatCount } from "../../values/format";
import { AddingTarget } from "../records/addingTarget";
import { RejectedRows } from "./RejectedRows";

type Plan = Schemas["PanelPlan"];

const FEW_MISSING = 12;

interface PlanViewProps {
  address: PanelAddress;
  id: string;
  plan: Plan;
  isWhole: boolean;
  isPending: boolean;
  onRun: () => void;
  onAgain: () => void;
}

/** What an import would do, before it does anything. */
export function PlanView({ address, id, plan, isWhole, isPending, onRun, onAgain }: PlanViewProps) {
  const place = useRef<HTMLElement>(null);
  // What was asked for is in sight, and the keyboard goes on from there.
  useEffect(() => {
    place.current?.focus({ preventScroll: true });
    place.current?.scrollIntoView({ block: "start" });
  }, []);
  const writes = plan.new + plan.changed + plan.setAside;
  const isStopped = plan.forbidden != null || (isWhole && plan.rejected.length > 0);
  return (
    <section
      ref={place}
      tabIndex={-1}
      aria-label="The plan"
      className="scroll-mt-4 outline-none grid gap-4 border-t-2 border-ink pt-4"
    >
      <h2 className="text-lg font-semibold">What it would do</h2>
      <dl className="flex flex-wrap gap-x-8 gap-y-2">
        <Count label="new" count={plan.new} />
        <Count label="changed" count={plan.changed} />
        <Count label="the same" count={plan.same} />
        <Count label="left out" count={plan.rejected.length} isBad={plan.rejected.length > 0} />
        {plan.setAside > 0 && <Count label="set aside" count={plan.setAside} />}
        {plan.alongWith > 0 && <Count label="go along with those" count={plan.alongWith} />}
      </dl>
      {plan.forbidden != null && (
        <Notice tone="danger" title="It cannot be done like this.">
          {plan.forbidden}
        </Notice>
      )}
      {isWhole && plan.rejected.length > 0 && (
        <p className="font-medium">
          Rows do not fit, so nothing would be written. Mend them, or allow rows to be left out.
        </p>
      )}
      <div>
        <Button tone="next" disabled={isPending || isStopped || writes === 0} onClick={onRun}>
          {writes === 0
            ? "Nothing to write"
            : plan.new + plan.changed === 1
              ? "Import 1 row"
              : `Import ${formatCount(plan.new + plan.changed)} rows`}
        </Button>
      </div>
      {plan.columns.length > 0 && <Changes columns={plan.columns} />}
      {plan.missing.length > 0 && <Missing address={address} missing={plan.missing} onAgain={onAgain} />}
      {plan.rejected.length > 0 && (
        <RejectedRows
          rows={plan.rejected}
          columns={plan.fileColumns}
          href={`/api/porches/${address.porch}/panels/${address.panel}/imports/${id}/rejected.csv`}
        />
      )}
    </section>
  );
}

function Count({ label, count, isBad = false }: { label: string; count: number; isBad?: boolean }) {
  return (
    <div className="flex items-baseline gap-1.5">
      <dt className="order-2 text-faint">{label}</dt>
      <dd className={`text-xl font-semibold tabular-nums ${isBad ? "text-danger" : ""}`}>{formatCount(count)}</dd>
    </div>
  );
}

function Changes({ columns }: { columns: Plan["columns"] }) {
  return (
    <section className="grid gap-2">
      <h3 className="font-semibold">Changes, column by column</h3>
      {columns.map((column) => (
        <details key={column.column} open={columns.length <= 3}>
          <summary className="cursor-pointer">
            {column.label} <span className="text-faint">in {formatCount(column.count)} records</span>
          </summary>
          <ul className="mt-1 ml-5 grid gap-0.5 text-sm">
            {column.examples.map((one) => (
              <li key={one.row}>
                <span className="text-faint">Row {one.row},</span> {one.record}:{" "}
                {one.from === null && one.to === null ? (
                  "not told, as it is confidential"
                ) : (
                  <>
                    <del>{one.from ?? "nothing"}</del> →{" "}
                    <ins className="font-medium no-underline">{one.to ?? "nothing"}</ins>
                  </>
                )}
              </li>
            ))}
          </ul>
        </details>
      ))}
    </section>
  );
}

interface MissingProps {
  address: PanelAddress;
  missing: Plan["missing"];
  onAgain: () => void;
}

/** What the file calls and nothing is called: to be added, or left out with its rows. */
function Missing({ address, missing, onAgain }: MissingProps) {
  const show = useContext(AddingTarget);
  const [isAll, setAll] = useState(false);
  const [adding, setAdding] = useState<{ target: Schemas["NewTarget"]; typed: string } | null>(null);
  const find = useMutation({
    mutationFn: async ({ column, text }: { column: string; text: string }) => {
      const choices = await unwrap(
        api.GET("/api/porches/{porch}/panels/{panel}/lookups/{column}", {
          params: { path: { ...address, column }, query: { q: text } },
        }),
      );
      return { target: choices.target, typed: text };
    },
    onSuccess: ({ target, typed }) => {
      if (target) setAdding({ target, typed });
    },
  });
  const shown = isAll ? missing : missing.slice(0, FEW_MISSING);
  return (
    <section className="grid gap-2">
      <h3 className="font-semibold">Missing among what they refer to</h3>
      <ul className="border-t border-line">
        {shown.map((one) => (
          <li
            key={`${one.column} ${one.text}`}
            className="flex flex-wrap items-center gap-x-3 border-b border-line py-1"
          >
            <span className="text-faint">{one.label}</span>
            <span className="font-medium">{one.text}</span>
            <span className="text-sm text-faint">
              in {formatCount(one.rows)} {one.rows === 1 ? "row" : "rows"}, left out
            </span>
            {show && (
              <Button
                disabled={find.isPending}
                onClick={() => {
                  find.mutate({ column: one.column, text: one.text });
                }}
              >
                Add it
              </Button>
            )}
          </li>
        ))}
      </ul>
      {!isAll && missing.length > FEW_MISSING && (
        <div>
          <Button
            onClick={() => {
              setAll(true);
            }}
          >
            Show all {formatCount(missing.length)}
          </Button>
        </div>
      )}
      {find.data && !find.data.target && <p role="status">None can be added here: ask whoever manages that panel.</p>}
      <Failure error={find.error} />
      {adding &&
        show?.({
          porch: address.porch,
          target: adding.target,
          typed: adding.typed,
          onClose: (value) => {
            setAdding(null);
            if (value !== null) onAgain();
          },
        })}
    </section>
  );
}
