// @vitest-environment happy-dom
import { act, cleanup, renderHook } from "@testing-library/react";
import type { KeyboardEvent } from "react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { ListPage } from "../../../api/client";
import type { ListView } from "../../../api/listView";
import { useListRows } from "./useListRows";
import { useSelection } from "./useSelection";

// What is left mounted is drawn once more when there is no window any more.
afterEach(cleanup);

const view = { search: "", page: 2, size: 50, at: "", sort: [] as string[] } as ListView;

function pageOf(keys: (string | null)[]): ListPage {
  return {
    columns: ["a", "b"],
    rows: keys.map((key) => ({ key, title: key ?? "", values: [], version: null })),
    hasNext: true,
    hasPrevious: true,
    next: "after",
    previous: "before",
  } as unknown as ListPage;
}

function rowsOf(keys: (string | null)[]) {
  const on = { onChange: vi.fn(), onOpen: vi.fn(), onLeave: vi.fn() };
  const page = pageOf(keys);
  const rendered = renderHook(() => {
    const selection = useSelection();
    return {
      selection,
      rows: useListRows({ page, view, columns: [{ name: "a" }, { name: "b" }], selection, focusRow: null, ...on }),
    };
  });
  const body = document.createElement("tbody");
  keys.forEach(() => {
    body.appendChild(document.createElement("tr")).setAttribute("tabindex", "-1");
  });
  document.body.replaceChildren(body);
  rendered.result.current.rows.body.current = body;
  const press = (key: string, index: number, more: Partial<KeyboardEvent> = {}) => {
    const preventDefault = vi.fn();
    const event = { key, preventDefault, ...more } as unknown as KeyboardEvent;
    const row = page.rows[index];
    if (!row) throw new Error("There is no such row.");
    act(() => {
      rendered.result.current.rows.onKeyDown(event, row, index);
    });
    return preventDefault;
  };
  return {
    on,
    page,
    press,
    now: () => rendered.result.current,
    focused: () => [...body.children].indexOf(document.activeElement ?? body),
  };
}

describe("useListRows", () => {
  it("moves the focus among rows, and from the first back to the search", () => {
    const list = rowsOf(["1", "2", "3"]);
    list.press("ArrowDown", 0);
    expect(list.focused()).toBe(1);
    expect(list.now().rows.active).toBe(1);
    list.press("End", 1);
    expect(list.focused()).toBe(2);
    list.press("ArrowDown", 2);
    expect(list.focused()).toBe(2);
    list.press("Home", 2);
    expect(list.focused()).toBe(0);
    list.press("ArrowUp", 0);
    expect(list.on.onLeave).toHaveBeenCalledOnce();
  });

  it("selects with space, and goes on selecting with shift and arrows", () => {
    const list = rowsOf(["1", "2", null]);
    list.press(" ", 0);
    expect([...list.now().selection.keys]).toEqual(["1"]);
    list.press("ArrowDown", 1, { shiftKey: true });
    expect([...list.now().selection.keys]).toEqual(["1", "2"]);
    list.press("ArrowUp", 1, { shiftKey: true });
    expect([...list.now().selection.keys]).toEqual(["1", "2"]);
    list.press(" ", 2);
    expect([...list.now().selection.keys]).toEqual(["1", "2"]);
  });

  it("moves among the columns and stays within them", () => {
    const list = rowsOf(["1"]);
    list.press("ArrowRight", 0);
    expect(list.now().rows.cursor).toBe("a");
    list.press("ArrowRight", 0);
    list.press("ArrowRight", 0);
    expect(list.now().rows.cursor).toBe("b");
    list.press("ArrowLeft", 0);
    list.press("ArrowLeft", 0);
    expect(list.now().rows.cursor).toBe("a");
  });

  it("turns pages and opens records", () => {
    const list = rowsOf(["1", "2"]);
    list.press("PageDown", 0);
    expect(list.on.onChange).toHaveBeenLastCalledWith({ page: 3, at: "after" });
    list.press("PageUp", 0);
    expect(list.on.onChange).toHaveBeenLastCalledWith({ page: 1, at: "" });
    list.press("Enter", 1);
    expect(list.on.onOpen).toHaveBeenCalledWith(list.page.rows[1], 1);
  });

  it("leaves keys with Ctrl, Alt or Meta to the browser, and keys that mean nothing here", () => {
    const list = rowsOf(["1", "2"]);
    for (const held of [{ ctrlKey: true }, { altKey: true }, { metaKey: true }])
      expect(list.press("End", 0, held)).not.toHaveBeenCalled();
    expect(list.press("x", 0)).not.toHaveBeenCalled();
    expect(list.now().rows.active).toBe(0);
  });
});
