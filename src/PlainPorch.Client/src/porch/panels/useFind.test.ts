// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, renderHook, waitFor } from "@testing-library/react";
import { createElement, type KeyboardEvent, type ReactNode } from "react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Schemas } from "../../api/client";
import { foundFor, useFind } from "./useFind";

// What is left mounted is drawn once more when there is no window any more.
afterEach(cleanup);

const panels = [
  { slug: "boats", label: "Boats", group: "", isHidden: false, table: "boat" },
  { slug: "owners", label: "Owners", group: "", isHidden: false, table: "owner" },
] as Schemas["PanelSummary"][];

const findings = {
  panels: [
    { panel: "owners", label: "Owners", records: [{ key: "12", title: "Rossi, Anna" }], hasMore: true },
    { panel: "boats", label: "Boats", records: [{ key: "7", title: "Rossinante" }], hasMore: false },
  ],
  notSearched: ["Readings"],
};

beforeEach(() => {
  vi.stubGlobal(
    "fetch",
    vi.fn((request: Request) => {
      const text = new URL(request.url).searchParams.get("q") ?? "";
      return Promise.resolve(Response.json(text.startsWith("ross") ? findings : { panels: [], notSearched: [] }));
    }),
  );
});

function box() {
  const onGo = vi.fn();
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const wrapper = ({ children }: { children: ReactNode }) => createElement(QueryClientProvider, { client }, children);
  const { result } = renderHook(() => useFind("yard", panels, onGo), { wrapper });
  return {
    onGo,
    now: () => result.current,
    type: (text: string) => {
      act(() => {
        result.current.type(text);
      });
    },
    press: (key: string) => {
      act(() => {
        result.current.onKeyDown({ key, preventDefault: vi.fn() } as unknown as KeyboardEvent);
      });
    },
  };
}

describe("foundFor", () => {
  it("names panels first, then records, then the way to the rest", () => {
    expect(foundFor("yard", panels, "o", undefined).map(({ title }) => title)).toEqual(["Owners", "Boats"]);
    expect(foundFor("yard", panels, "rossi", findings).map(({ title, path }) => [title, path])).toEqual([
      ["Rossi, Anna", "/porch/yard/owners/record/12"],
      ["All in Owners", "/porch/yard/owners?q=rossi"],
      ["Rossinante", "/porch/yard/boats/record/7"],
    ]);
    expect(foundFor("yard", panels, "", findings)).toEqual([]);
  });
});

describe("useFind", () => {
  it("goes to a panel at once, without waiting for records", () => {
    const one = box();
    one.type("own");
    one.press("Enter");
    expect(one.onGo).toHaveBeenCalledWith("/porch/yard/owners");
    expect(one.now().typed).toBe("");
  });

  it("goes to the record as soon as it is found, where Enter was pressed before", async () => {
    const one = box();
    one.type("rossi");
    one.press("Enter");
    expect(one.onGo).not.toHaveBeenCalled();
    await waitFor(() => {
      expect(one.onGo).toHaveBeenCalledWith("/porch/yard/owners/record/12");
    });
  });

  it("says what was too large to be searched, and stays where nothing is found", async () => {
    const one = box();
    one.type("rossi");
    await waitFor(() => {
      expect(one.now().notSearched).toEqual(["Readings"]);
    });
    one.type("nowhere");
    one.press("Enter");
    await waitFor(() => {
      expect(one.now().isFresh).toBe(true);
    });
    expect(one.onGo).not.toHaveBeenCalled();
    expect(one.now().typed).toBe("nowhere");
    one.press("Escape");
    expect(one.now().typed).toBe("");
  });

  it("moves among what is found by arrows, and no farther", async () => {
    const one = box();
    one.type("rossi");
    await waitFor(() => {
      expect(one.now().found).toHaveLength(3);
    });
    for (let i = 0; i < 5; i++) one.press("ArrowDown");
    expect(one.now().at).toBe(2);
    one.press("ArrowUp");
    one.press("ArrowUp");
    one.press("ArrowUp");
    expect(one.now().at).toBe(0);
  });
});
