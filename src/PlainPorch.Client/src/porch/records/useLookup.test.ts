// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, cleanup, renderHook, waitFor } from "@testing-library/react";
import { createElement, type KeyboardEvent, type ReactNode } from "react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Column } from "../../api/client";
import { choicesQuery } from "../../api/queries";
import { meantBy, sameValue, useLookup, type Unsettled } from "./useLookup";

// What is left mounted is drawn once more when there is no window any more.
afterEach(cleanup);

const choices = [
  { value: "12", title: "Rossi, Anna", detail: "12" },
  { value: "7", title: "Rossi, Bruno", detail: "7" },
];

beforeEach(() => {
  vi.stubGlobal(
    "fetch",
    vi.fn((request: Request) => {
      const text = (new URL(request.url).searchParams.get("q") ?? "").toLowerCase();
      const found = choices.filter(({ value, title }) => value === text || title.toLowerCase().includes(text));
      return Promise.resolve(Response.json({ choices: found, hasMore: false }));
    }),
  );
});

/** What the server was asked for. */
function asked() {
  return vi.mocked(fetch).mock.calls.map(([request]) => new URL((request as Request).url).searchParams.get("q"));
}

function lookup() {
  const onChoose = vi.fn();
  const unsettled = { current: new Map() as Unsettled };
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const wrapper = ({ children }: { children: ReactNode }) => createElement(QueryClientProvider, { client }, children);
  const { result } = renderHook(
    () =>
      useLookup({
        ask: (text) => choicesQuery({ porch: "p", panel: "boats" }, "owner", text),
        column: { name: "owner", isNullable: true } as Column,
        value: "",
        known: undefined,
        knownFor: null,
        onChoose,
        unsettled,
      }),
    { wrapper },
  );
  const press = (key: string) => {
    const event = { key, preventDefault: vi.fn(), stopPropagation: vi.fn() } as unknown as KeyboardEvent;
    act(() => {
      result.current.onKeyDown(event);
    });
  };
  const type = (text: string) => {
    act(() => {
      result.current.type(text);
    });
  };
  return { onChoose, unsettled, press, type, now: () => result.current };
}

describe("useLookup", () => {
  it("finds while typing, and chooses with arrows and Enter", async () => {
    const one = lookup();
    one.type("rossi");
    await waitFor(() => {
      expect(asked()).toContain("rossi");
      expect(one.now().choices.isFetching).toBe(false);
    });
    expect(one.now().options).toHaveLength(2);
    one.press("ArrowDown");
    expect(one.now().active).toBe(1);
    one.press("ArrowDown");
    expect(one.now().active).toBe(1);
    one.press("Enter");
    expect(one.onChoose).toHaveBeenCalledWith("7", {});
    expect(one.now().isOpen).toBe(false);
  });

  it("takes a key that was typed for the record when the field is left before the list came", async () => {
    const one = lookup();
    one.type("12");
    act(() => {
      one.now().onBlur();
    });
    await waitFor(() => {
      expect(one.onChoose).toHaveBeenCalledWith("12", {});
    });
    expect(one.unsettled.current.size).toBe(0);
  });

  it("says that a text means no one record, and does not lose it", async () => {
    const one = lookup();
    one.type("rossi");
    act(() => {
      one.now().onBlur();
    });
    await waitFor(() => {
      expect(one.now().isLost).toBe(true);
    });
    expect(one.onChoose).not.toHaveBeenCalled();
    expect(one.now().shown).toBe("rossi");
    expect([...one.unsettled.current.keys()]).toEqual(["owner"]);
    one.press("Escape");
    expect(one.now().shown).toBe("");
  });
});

describe("what a text means", () => {
  it("is the record of that key or title, or the only one found", () => {
    expect(meantBy("7", choices)?.value).toBe("7");
    expect(meantBy("ROSSI, ANNA", choices)?.value).toBe("12");
    expect(meantBy("rossi", choices)).toBeUndefined();
    expect(meantBy("anything", choices.slice(0, 1))?.value).toBe("12");
  });

  it("leaves leading zeros of numbers aside, and those of nothing else", () => {
    expect(sameValue("000123", "123")).toBe(true);
    expect(sameValue("0A", "A")).toBe(false);
    expect(sameValue("12", "13")).toBe(false);
  });
});
