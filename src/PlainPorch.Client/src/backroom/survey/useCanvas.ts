import { useEffect, useEffectEvent, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import type { Box, Graph, Layout } from "./pictureLayout";

/** The part of the picture that is in sight, in its own units. */
export interface View {
  x: number;
  y: number;
  width: number;
}

/** How high the part in sight is, as a share of its width. */
export const RATIO = 0.52;

/** How much one step brings the picture nearer. */
export const ZOOM = 1.25;

const MARGIN = 20;
const READABLE_PX = 900;
const NEAREST_PX = 200;

/** A drawing that is dragged or moved by arrows, zoomed by wheel, buttons or + and −; 0 shows all of it. */
export function useCanvas(graph: Graph, layout: Layout, center: string | null) {
  const whole = fit(layout);
  const [view, setView] = useState<View>(whole);
  const [followed, setFollowed] = useState<string | null>(null);
  const frame = useRef<HTMLDivElement>(null);
  const drag = useRef<{ x: number; y: number; view: View } | null>(null);
  const near = nearOf(graph, center);

  const zoom = (factor: number, at = { x: 0.5, y: 0.5 }) => {
    setView((now) => zoomed(now, whole, factor, at));
  };
  // Another table was chosen: bring it into the middle, near enough to be read.
  if (center !== followed) {
    setFollowed(center);
    const box = center === null ? undefined : layout.nodes.get(center);
    if (box) setView(around(box, view));
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

  return {
    view,
    frame,
    near,
    zoom,
    showAll: () => {
      setView(whole);
    },
    handlers: {
      onKeyDown,
      onPointerDown: (event: PointerEvent) => {
        drag.current = { x: event.clientX, y: event.clientY, view };
      },
      onPointerMove,
      onPointerUp: () => {
        drag.current = null;
      },
      onPointerLeave: () => {
        drag.current = null;
      },
    },
  };
}

/** What of the picture is in sight when all of it is. */
export function fit({ width, height }: Layout): View {
  const wanted = Math.max(width + 2 * MARGIN, (height + 2 * MARGIN) / RATIO, 400);
  return { x: (width - wanted) / 2, y: (height - wanted * RATIO) / 2, width: wanted };
}

/** The tables at the other ends of a table's references, and itself. */
export function nearOf(graph: Graph, center: string | null): Set<string> {
  const ends = graph.links.filter(({ from, to }) => from === center || to === center);
  return new Set(ends.flatMap(({ from, to }) => [from, to]));
}

/** The part in sight, nearer or farther, so that the point at a share of its width and height stays where it is. */
export function zoomed(now: View, whole: View, factor: number, at: { x: number; y: number }): View {
  const width = Math.min(whole.width * 1.5, Math.max(NEAREST_PX, now.width * factor));
  return { x: now.x + (now.width - width) * at.x, y: now.y + (now.width - width) * RATIO * at.y, width };
}

/** The part in sight that has a box in its middle, near enough to be read. */
export function around(box: Box, now: View): View {
  const width = Math.min(now.width, READABLE_PX);
  return { x: box.x + box.width / 2 - width / 2, y: box.y + box.height / 2 - (width * RATIO) / 2, width };
}
