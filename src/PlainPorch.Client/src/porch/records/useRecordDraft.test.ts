// @vitest-environment happy-dom
import { act, cleanup, renderHook } from "@testing-library/react";
import { afterEach, expect, it } from "vitest";
import type { Column, RecordView } from "../../api/client";
import { useRecordDraft } from "./useRecordDraft";

// What is left mounted is drawn once more when there is no window any more.
afterEach(cleanup);

const column = (name: string, part: Partial<Column> = {}) =>
  ({
    name,
    label: name,
    kind: "text",
    isWritable: true,
    isNullable: true,
    enumValues: [],
    within: [],
    shownWhen: null,
    ...part,
  }) as unknown as Column;
const record = (values: Record<string, string | null>, version = 1) =>
  ({ key: "1", title: "", values, version, lookups: {}, unfit: [] }) as unknown as RecordView;

it("takes for saved what was sent, though the database wrote it in another way, and keeps what was typed since", () => {
  const columns = [
    column("town"),
    column("name"),
    column("photo", { kind: "binary", isWritable: false, mostBytes: 10 }),
  ];
  const { result } = renderHook(() =>
    useRecordDraft(columns, record({ town: "Penfold", name: "Ada", photo: null }), {}),
  );
  const type = (name: string, text: string) => {
    act(() => {
      const typed = columns.find((one) => one.name === name);
      if (typed) result.current.type(typed, text);
    });
  };
  type("town", "wrenmouth ");
  type("photo", "0b5a1b1e-8d0e-4c9d-9a43-0d6f5c8f2c11");
  expect(result.current.changes).toEqual({
    town: "wrenmouth ",
    photo: "0b5a1b1e-8d0e-4c9d-9a43-0d6f5c8f2c11",
  });
  const sent = result.current.typed;
  type("name", "Ben");
  type("town", "Wrenmouth Quay");
  act(() => {
    result.current.settle(record({ town: "WRENMOUTH", name: "Ada", photo: "2018" }, 2), sent);
  });
  expect(result.current.changes).toEqual({ town: "Wrenmouth Quay", name: "Ben" });
  act(() => {
    result.current.settle(record({ town: "WRENMOUTH QUAY", name: "BEN", photo: "2018" }, 3), result.current.typed);
  });
  expect(result.current.isDirty).toBe(false);
});
