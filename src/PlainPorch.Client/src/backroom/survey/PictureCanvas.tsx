import { useEffect, useEffectEvent, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import { Button } from "../../ui/Button";
import type { Box, Graph, Layout, Link } from "./pictureLayout";

interface View {
  x: number;
  y: number;
  width: number;
}

interface PictureCanvasProps {
  graph: Graph;
  layout: Layout;
  center: string | null;
  onCenter: (id: string | null) => void;
}

const RATIO = 0.52;
const ZOOM = 1.25;
const MARGIN = 20;
const READABLE_PX = 900;
// From this width on the names of tables are too small to be read, and those of the groups stand in.
const FAR = 2200;

const number = new Intl.NumberFormat(undefined, { notation: "compact" });

/** The drawing: dragged or moved by arrows, zoomed by wheel, buttons or + and −; 0 shows all of it. */
export function PictureCanvas({ graph, layout, center, onCenter }: PictureCanvasProps) {
  const whole = fit(layout);
  const [view, setView] = useState<View>(whole);
  const [followed, setFollowed] = useState<string | null>(null);
  const frame = useRef<HTMLDivElement>(null);
  const drag = useRef<{ x: number; y: number; view: View } | null>(null);
  const near = nearOf(graph, center);

  const zoom = (factor: number, at = { x: 0.5, y: 0.5 }) => {
    setView((now) => {
      const width = Math.min(whole.width * 1.5, Math.max(200, now.width * factor));
      return {
        x: now.x + (now.width - width) * at.x,
        y: now.y + (now.width - width) * RATIO * at.y,
        width,
      };
    });
  };
  // Another table was chosen: bring it into the middle, near enough to be read.
  if (center !== followed) {
    setFollowed(center);
    const box = center === null ? undefined : layout.nodes.get(center);
    if (box) {
      const width = Math.min(view.width, READABLE_PX);
      setView({ x: box.x + box.width / 2 - width / 2, y: box.y + box.height / 2 - (width * RATIO) / 2, width });
    }
  }

  const onWheel = useEffectEvent((event: WheelEvent) => {
    // Without a modifier the wheel scrolls the page, as it does everywhere else.
    if (!event.ctrlKey && !event.metaKey) return;
    event.preventDefault();
    const rect = frame.current?.getBoundingClientRect();
    if (!rect) return;
    zoom(event.deltaY > 0 ? ZOOM : 1 / ZOOM, {
      x: (event.clientX - rect.left) / rect.width,
      y: (event.clientY - rect.top) / rect.height,
    });
  });
  useEffect(() => {
    const element = frame.current;
    const listen = (event: WheelEvent) => {
      onWheel(event);
    };
    element?.addEventListener("wheel", listen, { passive: false });
    return () => element?.removeEventListener("wheel", listen);
  }, []);

  const move = (dx: number, dy: number) => {
    setView((now) => ({ ...now, x: now.x + dx * now.width, y: now.y + dy * now.width }));
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const act: Record<string, (() => void) | undefined> = {
      "+": () => {
        zoom(1 / ZOOM);
      },
      "-": () => {
        zoom(ZOOM);
      },
      "0": () => {
        setView(whole);
      },
      ArrowLeft: () => {
        move(-0.1, 0);
      },
      ArrowRight: () => {
        move(0.1, 0);
      },
      ArrowUp: () => {
        move(0, -0.1);
      },
      ArrowDown: () => {
        move(0, 0.1);
      },
    };
    const action = act[event.key];
    if (!action || event.ctrlKey || event.metaKey || event.altKey) return;
    event.preventDefault();
    action();
  };
  const onPointerMove = (event: PointerEvent) => {
    const start = drag.current;
    const width = frame.current?.clientWidth;
    if (!start || !width) return;
    const scale = start.view.width / width;
    setView({
      ...start.view,
      x: start.view.x - (event.clientX - start.x) * scale,
      y: start.view.y - (event.clientY - start.y) * scale,
    });
  };

  return (
    <div className="grid gap-2">
      <div
        ref={frame}
        tabIndex={0}
        role="application"
        aria-label="Picture of the tables: arrows move it, plus and minus zoom, 0 shows all"
        onKeyDown={onKeyDown}
        onPointerDown={(event) => {
          drag.current = { x: event.clientX, y: event.clientY, view };
        }}
        onPointerMove={onPointerMove}
        onPointerUp={() => {
          drag.current = null;
        }}
        onPointerLeave={() => {
          drag.current = null;
        }}
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
          {graph.links.map((link) => (
            <LinkLine key={link.id} link={link} layout={layout} center={center} />
          ))}
          {[...layout.nodes.values()].map((box) => (
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
          {view.width > FAR &&
            layout.clusters.map((box) => (
              <ClusterName key={box.id} box={box} size={Math.min(view.width / 55, box.height / 2)} />
            ))}
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
        <Button
          onClick={() => {
            setView(whole);
          }}
        >
          Show all
        </Button>
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

function fit({ width, height }: Layout): View {
  const wanted = Math.max(width + 2 * MARGIN, (height + 2 * MARGIN) / RATIO, 400);
  return { x: (width - wanted) / 2, y: (height - wanted * RATIO) / 2, width: wanted };
}

function nearOf(graph: Graph, center: string | null): Set<string> {
  const ends = graph.links.filter(({ from, to }) => from === center || to === center);
  return new Set(ends.flatMap(({ from, to }) => [from, to]));
}

function ClusterName({ box, size }: { box: Layout["clusters"][number]; size: number }) {
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

function between(a: Box, b: Box): string {
  const [ax, ay, bx, by] = [a.x + a.width / 2, a.y + a.height / 2, b.x + b.width / 2, b.y + b.height / 2];
  const end = edgePoint(b, ax - bx, ay - by);
  const start = edgePoint(a, bx - ax, by - ay);
  return `M${start.x} ${start.y}L${end.x} ${end.y}`;
}

/** Where a line from a box's middle leaves it. */
function edgePoint(box: Box, dx: number, dy: number): { x: number; y: number } {
  const scale = Math.min(box.width / 2 / Math.max(1, Math.abs(dx)), box.height / 2 / Math.max(1, Math.abs(dy)));
  return { x: box.x + box.width / 2 + dx * scale, y: box.y + box.height / 2 + dy * scale };
}

function loop(box: Box): string {
  const [x, y] = [box.x + box.width, box.y + box.height / 2];
  return `M${x} ${y - 8}C${x + 26} ${y - 22} ${x + 26} ${y + 22} ${x} ${y + 8}`;
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
