import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, unwrap, type PanelDefinition, type Schemas } from "../../api/client";
import type { PanelAddress } from "../../api/queries";
import { Button } from "../../ui/Button";
import { DialogFrame } from "../../ui/DialogFrame";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { saidOf, partOf } from "./draftParts";

interface DraftAgainProps {
  address: PanelAddress;
  definition: PanelDefinition;
  onTake: (definition: PanelDefinition) => void;
}

/** Drafts the panel anew and shows in what it would differ; what is ticked is taken over. */
export function DraftAgain({ address, definition, onTake }: DraftAgainProps) {
  const [isOpen, setOpen] = useState(false);
  return (
    <>
      <Button
        onClick={() => {
          setOpen(true);
        }}
      >
        Draft again
      </Button>
      {isOpen && (
        <DialogFrame title={`A new draft of ${definition.label}`} isWide onOpenChange={setOpen}>
          <Draft
            address={address}
            definition={definition}
            onTake={(taken) => {
              setOpen(false);
              onTake(taken);
            }}
            onClose={() => {
              setOpen(false);
            }}
          />
        </DialogFrame>
      )}
    </>
  );
}

function Draft({ address, definition, onTake, onClose }: DraftAgainProps & { onClose: () => void }) {
  const draft = useQuery({
    queryKey: ["setup", address.porch, address.panel, "draft"],
    queryFn: ({ signal }) =>
      unwrap(api.GET("/api/porches/{porch}/panels/{panel}/setup/draft", { params: { path: address }, signal })),
    gcTime: 0,
  });
  if (draft.isPending) return <Loading what="the new draft" />;
  if (!draft.data) return <Failure error={draft.error} onRetry={() => void draft.refetch()} />;
  const { differences } = draft.data;
  if (!differences || differences.length === 0)
    return (
      <div className="grid gap-4">
        <p>
          {differences
            ? "A new draft would be the same as the panel is now."
            : "The source has not been surveyed yet. Survey it, and a new draft can be made from what is found."}
        </p>
        <div>
          <Button onClick={onClose}>Close</Button>
        </div>
      </div>
    );
  return (
    <Differences
      address={address}
      definition={definition}
      differences={differences}
      onTake={onTake}
      onClose={onClose}
    />
  );
}

interface DifferencesProps extends DraftAgainProps {
  differences: Schemas["DraftDifference"][];
  onClose: () => void;
}

function Differences({ address, definition, differences, onTake, onClose }: DifferencesProps) {
  const [chosen, setChosen] = useState<ReadonlySet<string>>(
    () => new Set(differences.filter(({ byHand }) => !byHand).map(({ part }) => part)),
  );
  const take = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/setup/draft", {
          params: { path: address },
          body: { parts: [...chosen] },
        }),
      ),
    onSuccess: onTake,
  });
  return (
    <div className="grid gap-3">
      <p>
        Made from what the survey found and you decided. What you set by hand is not ticked, and stays unless you tick
        it.
      </p>
      {take.isError && <Failure error={take.error} />}
      <ul className="max-h-[55dvh] overflow-y-auto border-y border-line">
        {differences.map((difference) => (
          <li key={difference.part} className="border-b border-line py-2 last:border-b-0">
            <label className="flex items-start gap-3">
              <input
                type="checkbox"
                className="mt-1 size-5 accent-accent"
                checked={chosen.has(difference.part)}
                onChange={() => {
                  const next = new Set(chosen);
                  if (!next.delete(difference.part)) next.add(difference.part);
                  setChosen(next);
                }}
              />
              <span className="min-w-0 break-words">
                <strong className="font-semibold">{partOf(difference.part, definition)}</strong>
                {difference.byHand && <span className="text-faint"> · set by hand</span>}
                <br />
                <del className="text-faint decoration-1">{saidOf(difference.present)}</del> <span aria-hidden>→</span>{" "}
                <span className="sr-only">becomes</span>
                <ins className="no-underline">{saidOf(difference.drafted)}</ins>
                {difference.why && <span className="block text-sm text-faint">{difference.why}</span>}
              </span>
            </label>
          </li>
        ))}
      </ul>
      <div className="flex flex-wrap gap-2">
        <Button
          tone="next"
          disabled={chosen.size === 0 || take.isPending}
          onClick={() => {
            take.mutate();
          }}
        >
          {take.isPending ? "Taking over …" : `Take over ${chosen.size} of ${differences.length}`}
        </Button>
        <Button onClick={onClose}>Cancel</Button>
      </div>
    </div>
  );
}
