import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useMemo, useRef, useState, type KeyboardEvent } from "react";
import { api, unwrap, type Schemas } from "../../api/client";
import { surveyQuery, type PanelAddress } from "../../api/queries";
import { Empty } from "../../ui/Empty";
import { Failure } from "../../ui/Failure";
import { FindingDetail } from "./FindingDetail";
import { FindingFilterBar } from "./FindingFilterBar";
import { FindingParts } from "./FindingParts";
import { Followed } from "./Followed";
import { chosen, everything, firstPart, idOf, isUnsupported, subjectOf, tableOf, type Finding } from "./findings";

type Verdict = Schemas["Verdict"] | null;

const ROW_PX = 34;

interface FindingsViewProps {
  sourceId: number;
  survey: Schemas["SurveyDto"];
}

/** What a survey found, line by line, with the evidence of one beside them; a single key decides and goes on to the next. */
export function FindingsView({ sourceId, survey }: FindingsViewProps) {
  const [filter, setFilter] = useState(() => ({ ...everything, part: firstPart(survey.findings) }));
  const [currentId, setCurrentId] = useState<string | null>(null);
  const decide = useDecision(sourceId);
  const frame = useRef<HTMLDivElement>(null);
  const shown = useMemo(() => chosen(survey.findings, filter), [survey.findings, filter]);
  const at = Math.max(
    0,
    shown.findIndex((finding) => idOf(finding) === currentId),
  );
  const current = shown[at];
  // eslint-disable-next-line react-hooks/incompatible-library -- measured rows are not memoized
  const rows = useVirtualizer({
    count: shown.length,
    getScrollElement: () => frame.current,
    estimateSize: () => ROW_PX,
    overscan: 12,
  });

  const go = (to: number) => {
    const target = Math.max(0, Math.min(shown.length - 1, to));
    const finding = shown[target];
    if (!finding) return;
    setCurrentId(idOf(finding));
    rows.scrollToIndex(target);
  };
  const say = (finding: Finding, verdict: Verdict, value = finding.value) => {
    if (finding.isDeclared) return;
    // Where only open ones are shown this one leaves the list, and the next comes to its place.
    const next = shown[at + 1] ?? shown[at - 1];
    decide.mutate({ finding, verdict, value });
    if (verdict !== null && next) setCurrentId(idOf(next));
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.altKey || event.metaKey || !current) return;
    const act: Record<string, (() => void) | undefined> = {
      ArrowDown: () => {
        go(at + 1);
      },
      ArrowUp: () => {
        go(at - 1);
      },
      PageDown: () => {
        go(at + 12);
      },
      PageUp: () => {
        go(at - 12);
      },
      Home: () => {
        go(0);
      },
      End: () => {
        go(shown.length - 1);
      },
      y: () => {
        say(current, "right");
      },
      n: () => {
        say(current, "wrong");
      },
      u: () => {
        say(current, null);
      },
    };
    const action = act[event.key.length === 1 ? event.key.toLowerCase() : event.key];
    if (!action) return;
    event.preventDefault();
    action();
  };

  return (
    <div className="grid gap-3">
      <FindingParts findings={survey.findings} filter={filter} onChange={setFilter} />
      <FindingFilterBar survey={survey} filter={filter} count={shown.length} onChange={setFilter} />
      {decide.isError && <Failure error={decide.error} />}
      {decide.data && <Followed porch={survey.porch} panels={decide.data.panels} />}
      {shown.length === 0 ? (
        <Empty title={filter.part === "unsure" ? "Nothing is left to check." : "No findings match."} />
      ) : (
        <div className="grid items-start gap-4 lg:grid-cols-[minmax(0,7fr)_minmax(0,5fr)]">
          <div
            ref={frame}
            role="listbox"
            aria-label="Findings"
            tabIndex={0}
            aria-activedescendant={current ? `finding-${at}` : undefined}
            onKeyDown={onKeyDown}
            className="h-[28rem] overflow-y-auto border border-line bg-sheet lg:h-[calc(100dvh-19rem)] lg:min-h-80"
          >
            <div className="relative" style={{ height: rows.getTotalSize() }}>
              {rows.getVirtualItems().map((row) => {
                const finding = shown[row.index];
                return (
                  finding && (
                    <FindingLine
                      key={idOf(finding)}
                      id={`finding-${row.index}`}
                      finding={finding}
                      isCurrent={row.index === at}
                      top={row.start}
                      onSelect={() => {
                        setCurrentId(idOf(finding));
                      }}
                    />
                  )
                );
              })}
            </div>
          </div>
          {current && (
            <FindingDetail
              key={idOf(current)}
              sourceId={sourceId}
              finding={current}
              titles={tableOfFinding(survey, current)?.titles ?? []}
              panel={panelOf(survey, current)}
              onDecide={say}
            />
          )}
        </div>
      )}
    </div>
  );
}

const tableOfFinding = ({ tables }: Schemas["SurveyDto"], { subject }: Finding) =>
  tables.find(({ schema, name }) => schema === subject.table.schema && name === subject.table.name);

const panelOf = (survey: Schemas["SurveyDto"], finding: Finding): PanelAddress | null => {
  const panel = tableOfFinding(survey, finding)?.panel;
  return panel ? { porch: survey.porch, panel } : null;
};

interface FindingLineProps {
  id: string;
  finding: Finding;
  isCurrent: boolean;
  top: number;
  onSelect: () => void;
}

function FindingLine({ id, finding, isCurrent, top, onSelect }: FindingLineProps) {
  const isWrong = finding.verdict === "wrong";
  return (
    <div
      id={id}
      role="option"
      aria-selected={isCurrent}
      onClick={onSelect}
      style={{ top, height: ROW_PX }}
      className="absolute inset-x-0 flex cursor-pointer items-center gap-3 border-b border-line px-3 hover:bg-paper aria-selected:bg-accent-tint"
    >
      <span className="w-12 shrink-0 text-right text-sm text-faint">
        {finding.isDeclared ? "" : `${Math.round(finding.confidence * 100)} %`}
      </span>
      <span className={`min-w-0 flex-1 truncate ${isWrong ? "text-faint line-through" : ""}`} title={tableOf(finding)}>
        <strong className="font-semibold">{subjectOf(finding)}</strong> {finding.says}
      </span>
      <span className={`shrink-0 text-sm ${isUnsupported(finding) ? "font-semibold text-danger" : "text-faint"}`}>
        {markOf(finding)}
      </span>
    </div>
  );
}

function markOf(finding: Finding): string {
  if (finding.isDeclared) return "declared";
  if (isUnsupported(finding)) return "no longer found";
  return finding.verdict ?? "";
}

interface Decision {
  finding: Finding;
  verdict: Verdict;
  value: string;
}

function useDecision(sourceId: number) {
  const client = useQueryClient();
  const { queryKey } = surveyQuery(sourceId);
  const apply = ({ finding, verdict, value }: Decision) => {
    client.setQueryData(
      queryKey,
      (survey: Schemas["SurveyDto"] | null | undefined) =>
        survey && {
          ...survey,
          findings: survey.findings.map((known) => (idOf(known) === idOf(finding) ? { ...known, verdict } : known)),
        },
    );
    return value;
  };
  return useMutation({
    scope: { id: `decisions ${sourceId}` },
    mutationFn: ({ finding, verdict, value }: Decision) =>
      unwrap(
        api.PUT("/api/sources/{id}/survey/decision", {
          params: { path: { id: sourceId } },
          body: { subject: finding.subject, verdict, value },
        }),
      ),
    onMutate: apply,
    // A decision for something else than what was found makes another finding of it.
    onSettled: async (done, error, { finding, value }) => {
      if (finding.subject.sort === "key" || (done && done.panels.length > 0)) {
        await client.invalidateQueries({ predicate: (query) => query.queryKey[0] !== queryKey[0] });
      }
      await client.invalidateQueries({
        queryKey,
        refetchType: error || value !== finding.value || isUnsupported(finding) ? "active" : "none",
      });
    },
  });
}
