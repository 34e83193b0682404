import { Button } from "../../ui/Button";
import type { Box, Graph, Layout, Link } from "./pictureLayout";
import { between, loop } from "./lines";
import { RATIO, useCanvas, ZOOM } from "./useCanvas";

interface PictureCanvasProps {
  graph: Graph;
  layout: Layout;
  center: string | null;
  onCenter: (id: string | null) => void;
}

// From this width on the names of tables are too small to be read, and those of the groups stand in.
const FAR = 2200;

const number = new Intl.NumberFormat(undefined, { notation: "compact" });

/** The drawing: dragged or moved by arrows, zoomed by wheel, buttons or + and −; 0 shows all of it. */
export function PictureCanvas({ graph, layout, center, onCenter }: PictureCanvasProps) {
  const { view, frame, near, zoom, showAll, handlers } = useCanvas(graph, layout, center);

  // Frames with their names alone: names across boxes are neither read.
  const isFar = view.width > FAR;

  return (
    <div className="grid gap-2">
      <div
        ref={frame}
        tabIndex={0}
        role="application"
        aria-label="Picture of the tables: arrows move it, plus and minus zoom, 0 shows all"
        {...handlers}
        className="cursor-grab touch-none overflow-hidden border border-line bg-sheet select-none active:cursor-grabbing"
      >
        <svg
          viewBox={`${view.x} ${view.y} ${view.width} ${view.width * RATIO}`}
          className="block aspect-[100/52] w-full"
          role="presentation"
        >
          <defs>
            <marker id="arrow" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="7" markerHeight="7" orient="auto">
              <path d="M0 0 8 4 0 8z" fill="context-stroke" />
            </marker>
          </defs>
          {layout.clusters.map((box) => (
            <rect
              key={box.id}
              x={box.x}
              y={box.y}
              width={box.width}
              height={box.height}
              rx={8}
              className="fill-paper stroke-line"
            />
          ))}
          {!isFar && graph.links.map((link) => <LinkLine key={link.id} link={link} layout={layout} center={center} />)}
          {[...layout.nodes.values()]
            .filter((box) => !isFar || box.id === center || near.has(box.id))
            .map((box) => (
              <TableBox
                key={box.id}
                box={box}
                name={graph.tables.get(box.id)?.name ?? ""}
                rows={graph.tables.get(box.id)?.rows ?? 0}
                state={center === null ? "plain" : box.id === center ? "center" : near.has(box.id) ? "near" : "far"}
                onChoose={() => {
                  onCenter(box.id);
                }}
              />
            ))}
          {isFar && layout.clusters.map((box) => <ClusterName key={box.id} box={box} width={view.width} />)}
        </svg>
      </div>
      <div className="flex flex-wrap items-center gap-2">
        <Button
          aria-label="Zoom in"
          onClick={() => {
            zoom(1 / ZOOM);
          }}
        >
          +
        </Button>
        <Button
          aria-label="Zoom out"
          onClick={() => {
            zoom(ZOOM);
          }}
        >
          −
        </Button>
        <Button onClick={showAll}>Show all</Button>
        {center && (
          <Button
            onClick={() => {
              onCenter(null);
            }}
          >
            Clear selection
          </Button>
        )}
        <span className="text-sm text-faint">Drag to move; Ctrl + wheel zooms.</span>
      </div>
    </div>
  );
}

// A letter is about so wide, compared with its height.
const LETTER = 0.6;

// Smaller than this part of the picture's width, a name is not read.
const SMALLEST = 1 / 115;

function ClusterName({ box, width }: { box: Layout["clusters"][number]; width: number }) {
  const size = Math.min(width / 55, box.height / 2, box.width / (LETTER * box.label.length));
  if (size < width * SMALLEST) return null;
  const x = box.x + box.width / 2;
  const y = box.y + box.height / 2;
  return (
    <text
      x={x}
      y={y}
      dominantBaseline="middle"
      textAnchor="middle"
      fontSize={size}
      strokeWidth={size / 5}
      paintOrder="stroke"
      className="pointer-events-none fill-ink stroke-paper font-semibold"
    >
      {box.label}
    </text>
  );
}

interface LinkLineProps {
  link: Link;
  layout: Layout;
  center: string | null;
}

function LinkLine({ link, layout, center }: LinkLineProps) {
  const [from, to] = [layout.nodes.get(link.from), layout.nodes.get(link.to)];
  if (!from || !to) return null;
  const isOfCenter = center !== null && (link.from === center || link.to === center);
  const route = layout.routes.get(link.id);
  const path = route
    ? route.map(({ x, y }, i) => `${i === 0 ? "M" : "L"}${x} ${y}`).join("")
    : link.from === link.to
      ? loop(from)
      : between(from, to);
  const strength = isOfCenter
    ? "stroke-accent opacity-100"
    : center !== null
      ? "stroke-edge opacity-10"
      : route
        ? "stroke-edge opacity-80"
        : "stroke-edge opacity-20";
  return (
    <path d={path} className={`fill-none ${strength}`} strokeWidth={isOfCenter ? 2 : 1.2} markerEnd="url(#arrow)">
      <title>{`${link.from} → ${link.to}: ${link.columns.join(", ")}`}</title>
    </path>
  );
}

interface TableBoxProps {
  box: Box;
  name: string;
  rows: number;
  state: "plain" | "center" | "near" | "far";
  onChoose: () => void;
}

function TableBox({ box, name, rows, state, onChoose }: TableBoxProps) {
  const look = {
    plain: "fill-sheet stroke-edge",
    center: "fill-accent stroke-accent",
    near: "fill-accent-tint stroke-accent",
    far: "fill-sheet stroke-edge opacity-40",
  }[state];
  const ink = state === "center" ? "fill-sheet" : "fill-ink";
  return (
    <g className="cursor-pointer" onClick={onChoose}>
      <title>{box.id}</title>
      <rect x={box.x} y={box.y} width={box.width} height={box.height} rx={4} className={look} />
      <text
        x={box.x + box.width / 2}
        y={box.y + 17}
        textAnchor="middle"
        className={`text-[13px] font-semibold ${ink} ${state === "far" ? "opacity-50" : ""}`}
      >
        {name}
      </text>
      <text
        x={box.x + box.width / 2}
        y={box.y + 32}
        textAnchor="middle"
        className={`text-[11px] ${state === "center" ? "fill-sheet" : "fill-faint"} ${state === "far" ? "opacity-50" : ""}`}
      >
        {number.format(rows)} rows
      </text>
    </g>
  );
}
