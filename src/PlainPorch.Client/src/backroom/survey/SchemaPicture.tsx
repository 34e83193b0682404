import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import type { Schemas } from "../../api/client";
import { Failure } from "../../ui/Failure";
import { Loading } from "../../ui/Loading";
import { PictureCanvas } from "./PictureCanvas";
import { graphOf, layOut, neighbourhood, type Graph } from "./pictureLayout";
import { shapeWords } from "./surveyWords";
import { formatCount } from "../../values/format";

/** The tables of a source and their references, by groups: zoom, find a table, see it with its neighbours alone. */
export function SchemaPicture({ survey }: { survey: Schemas["SurveyDto"] }) {
  const whole = useMemo(() => graphOf(survey), [survey]);
  const [center, setCenter] = useState<string | null>(null);
  const [isAlone, setAlone] = useState(false);
  const [typed, setTyped] = useState("");
  const graph = useMemo(() => (isAlone && center ? neighbourhood(whole, center) : whole), [whole, isAlone, center]);
  const layout = useQuery({
    queryKey: ["picture", [...graph.tables.keys()], graph.links.map(({ id }) => id), isAlone],
    queryFn: () => layOut(graph, !isAlone),
    staleTime: Infinity,
  });
  const find = (text: string) => {
    setTyped(text);
    const wanted = text.trim().toLowerCase();
    const ids = [...whole.tables.keys()];
    const match =
      ids.find((id) => id.toLowerCase() === wanted || whole.tables.get(id)?.name.toLowerCase() === wanted) ??
      (wanted.length > 1 ? ids.find((id) => id.toLowerCase().includes(wanted)) : undefined);
    if (match) setCenter(match);
  };
  return (
    <div className="grid gap-3">
      <div className="flex flex-wrap items-center gap-3">
        <input
          type="search"
          aria-label="Find a table"
          placeholder="Find a table"
          list="picture-tables"
          value={typed}
          onChange={(event) => {
            find(event.target.value);
          }}
          onKeyDown={(event) => {
            if (event.key === "Escape") {
              setTyped("");
              setCenter(null);
              setAlone(false);
            }
          }}
          className="min-h-9 w-64 rounded border border-edge bg-sheet px-3 placeholder:text-faint"
        />
        <datalist id="picture-tables">
          {[...whole.tables.values()].map((table) => (
            <option key={`${table.schema}.${table.name}`} value={table.name} />
          ))}
        </datalist>
        <label className="flex min-h-9 items-center gap-2">
          <input
            type="checkbox"
            className="size-5 accent-accent"
            disabled={center === null}
            checked={isAlone && center !== null}
            onChange={(event) => {
              setAlone(event.target.checked);
            }}
          />
          Only this table and its neighbours
        </label>
        <span className="ml-auto text-faint">
          {whole.tables.size} tables, {whole.links.length} references
        </span>
      </div>
      <div className="grid items-start gap-4 lg:grid-cols-[minmax(0,1fr)_17rem]">
        {layout.isPending && <Loading what="the layout" />}
        {layout.isError && <Failure error={layout.error} onRetry={() => void layout.refetch()} />}
        {layout.data && (
          <PictureCanvas
            key={isAlone ? center : "all"}
            graph={graph}
            layout={layout.data}
            center={center}
            onCenter={setCenter}
          />
        )}
        {center ? (
          <Neighbours graph={whole} center={center} onCenter={setCenter} />
        ) : (
          <p className="text-faint">
            Select a table to see what it refers to and what refers to it. Tables that belong together share a frame;
            references between frames are faint.
          </p>
        )}
      </div>
    </div>
  );
}

interface NeighboursProps {
  graph: Graph;
  center: string;
  onCenter: (id: string) => void;
}

/** A table's references in words; each leads to the table at its other end. */
function Neighbours({ graph, center, onCenter }: NeighboursProps) {
  const table = graph.tables.get(center);
  if (!table) return null;
  const out = graph.links.filter(({ from }) => from === center);
  const back = graph.links.filter(({ to, from }) => to === center && from !== center);
  return (
    <section aria-label="The selected table" className="grid gap-3">
      <div>
        <h2 className="text-lg font-semibold">{table.name}</h2>
        <p className="text-faint">
          {shapeWords[table.shape ?? "main"]}; {table.rowsAreEstimated && "about "}
          {formatCount(table.rows)} rows, {table.columns} columns
        </p>
      </div>
      <Ends
        title="Refers to"
        ends={out.map(({ id, to, columns }) => ({ id, table: to, columns }))}
        graph={graph}
        onCenter={onCenter}
      />
      <Ends
        title="Referred to by"
        ends={back.map(({ id, from, columns }) => ({ id, table: from, columns }))}
        graph={graph}
        onCenter={onCenter}
      />
    </section>
  );
}

interface EndsProps {
  title: string;
  ends: { id: string; table: string; columns: string[] }[];
  graph: Graph;
  onCenter: (id: string) => void;
}

function Ends({ title, ends, graph, onCenter }: EndsProps) {
  if (ends.length === 0) return null;
  return (
    <div>
      <h3 className="mb-1 text-sm font-semibold text-faint">{title}</h3>
      <ul className="grid max-h-72 gap-1 overflow-y-auto">
        {ends.map(({ id, table, columns }) => (
          <li key={id}>
            <button
              type="button"
              className="w-full rounded border border-line bg-sheet px-2 py-1 text-left break-words hover:bg-tint"
              onClick={() => {
                onCenter(table);
              }}
            >
              {graph.tables.get(table)?.name} <span className="text-faint">{columns.join(", ")}</span>
            </button>
          </li>
        ))}
      </ul>
    </div>
  );
}
