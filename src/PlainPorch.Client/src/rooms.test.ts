import { describe, expect, it } from "vitest";

// The source of every module, by its path from here.
const sources = import.meta.glob<string>("./**/*.{ts,tsx}", { query: "?raw", import: "default", eager: true });

const imports = new Map(
  Object.entries(sources).map(([path, text]) => [
    path,
    [...text.matchAll(/(?:from|import\()\s*"(\.[^"]*)"/g)]
      .map(([, to = ""]) => resolve(path, to))
      .filter((to) => to !== null),
  ]),
);

/** What a room may know beside itself; what stands at the top, as routes do, knows them all. */
const mayKnow: Record<string, string[]> = {
  api: [],
  values: ["api"],
  ui: ["api", "values"],
  people: ["api", "values", "ui"],
  porch: ["api", "values", "ui"],
  backroom: ["api", "values", "ui", "porch"],
};

function resolve(from: string, to: string): string | null {
  const path = new URL(to, `http://here/${from.slice(2)}`).pathname.slice(1);
  return [".ts", ".tsx"].map((end) => `./${path}${end}`).find((known) => known in sources) ?? null;
}

const roomOf = (path: string) => /^\.\/(\w+)\//.exec(path)?.[1];

/** The modules that lead back to themselves. */
function circle(): string[] {
  const done = new Set<string>();
  const walk = (path: string, way: string[]): string[] => {
    if (way.includes(path)) return [...way.slice(way.indexOf(path)), path];
    if (done.has(path)) return [];
    const found = (imports.get(path) ?? []).map((next) => walk(next, [...way, path])).find((one) => one.length > 0);
    done.add(path);
    return found ?? [];
  };
  return [...imports.keys()].map((path) => walk(path, [])).find((one) => one.length > 0) ?? [];
}

describe("rooms", () => {
  it("know each other one way", () => {
    const wrong = [...imports].flatMap(([from, all]) =>
      all
        .filter((to) => {
          const [room, other] = [roomOf(from), roomOf(to)];
          return room !== undefined && other !== undefined && room !== other && !mayKnow[room]?.includes(other);
        })
        .map((to) => `${from} knows ${to}`),
    );
    expect(wrong).toEqual([]);
  });

  it("have no circles", () => {
    expect(circle()).toEqual([]);
  });

  it("are read as they are", () => {
    // Otherwise the two above would pass whatever the code does.
    expect(imports.get("./routes.tsx")).toContain("./HomePage.tsx");
    expect([...imports.values()].flat().length).toBeGreaterThan(300);
  });
});
