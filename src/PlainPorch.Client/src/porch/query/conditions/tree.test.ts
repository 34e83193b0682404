import fc from "fast-check";
import { describe, expect, it } from "vitest";
import {
  about,
  emptyGroup,
  isGroup,
  newTest,
  readTree,
  replaced,
  valuesFor,
  writeTree,
  type Field,
  type Group,
  type Test,
} from "./tree";

const rig = { column: "RIG", of: null, label: "Rig", sorts: ["is", "contains", "empty"] } as unknown as Field;
const length = { column: "LOA", of: null, label: "Length", sorts: ["atLeast", "between", "empty"] } as unknown as Field;

interface Node {
  all?: Node[];
  any?: Node[];
  not?: Node;
  column?: string;
  is?: string;
  values?: string[];
}

const leaf: fc.Arbitrary<Node> = fc.record({
  column: fc.constantFrom("RIG", "LOA"),
  is: fc.constantFrom("is", "contains"),
  values: fc.array(fc.stringMatching(/^[a-z]{1,5}$/), { minLength: 1, maxLength: 2 }),
});
const { node } = fc.letrec<{ node: Node }>((tie) => ({
  node: fc.oneof(
    { maxDepth: 3 },
    leaf,
    fc.array(tie("node"), { minLength: 1, maxLength: 3 }).map((all) => ({ all })),
    fc.array(tie("node"), { minLength: 1, maxLength: 3 }).map((any) => ({ any })),
    fc
      .oneof(
        leaf,
        fc.array(leaf, { minLength: 1, maxLength: 2 }).map((any) => ({ any })),
      )
      .map((not) => ({ not })),
  ),
}));

describe("conditions in the address", () => {
  it("come out of the screen as they went in", () => {
    fc.assert(
      fc.property(fc.array(node, { minLength: 1, maxLength: 3 }), (all) => {
        const text = JSON.stringify({ all });
        expect(JSON.parse(writeTree(readTree(text)))).toEqual(JSON.parse(text));
      }),
    );
  });

  it("are none where there are none, and begin anew where they cannot be read", () => {
    expect(writeTree(readTree(""))).toBe("");
    expect(readTree("{not json").parts).toEqual([]);
  });

  it("say nothing of what was not begun yet, and keep what is half filled in", () => {
    const tree: Group = {
      ...emptyGroup(),
      parts: [newTest(rig), { ...newTest(length), is: "between", values: ["5", ""] }],
    };
    expect(JSON.parse(writeTree(tree))).toEqual({ all: [{ column: "LOA", is: "between", values: ["5", ""] }] });
  });

  it("put a single condition, or one that is not to hold, into a group", () => {
    expect(JSON.parse(writeTree({ ...readTree('{"any":[{"column":"RIG","is":"is","values":["a"]}]}') }))).toEqual({
      all: [{ any: [{ column: "RIG", is: "is", values: ["a"] }] }],
    });
    const not = readTree('{"not":{"column":"RIG","is":"empty"}}');
    expect(not.parts.map((part) => part.isNot)).toEqual([true]);
  });
});

describe("a condition about another field", () => {
  it("asks the same where that can be asked, and else what the field offers first", () => {
    const test: Test = { ...newTest(rig), is: "empty", values: [] };
    expect(about(test, length)).toMatchObject({ column: "LOA", is: "empty" });
    expect(about({ ...test, is: "contains", values: ["a"] }, length)).toMatchObject({ is: "atLeast", values: ["a"] });
  });

  it.each([
    ["empty", ["a"], []],
    ["between", ["1"], ["1", ""]],
    ["between", ["1", "2", "3"], ["1", "2"]],
    ["inThis", ["decade"], ["month"]],
    ["inThis", ["year"], ["year"]],
    ["inLast", ["soon"], ["30 days"]],
    ["inLast", ["2 weeks"], ["2 weeks"]],
    ["is", [], [""]],
    ["is", ["a", "b"], ["a", "b"]],
    ["atLeast", ["a", "b"], ["a"]],
  ] as const)("%s keeps of %j what it asks for: %j", (is, before, after) => {
    expect(valuesFor(is, [...before])).toEqual(after);
  });
});

describe("replaced", () => {
  it("changes one part at any depth, and takes it out for nothing", () => {
    const tree = readTree('{"all":[{"column":"RIG","is":"empty"},{"any":[{"column":"LOA","is":"empty"}]}]}');
    const group = tree.parts.find(isGroup);
    const inner = group?.parts[0];
    if (!group || !inner) throw new Error("The tree has no group.");
    const changed = replaced(tree, inner.id, { ...inner, isNot: true });
    expect(changed.parts.find(isGroup)?.parts.map((part) => part.isNot)).toEqual([true]);
    expect(replaced(tree, inner.id, null).parts.find(isGroup)?.parts).toEqual([]);
    expect(replaced(tree, group.id, null).parts).toHaveLength(1);
    expect(tree.parts.find(isGroup)?.parts).toHaveLength(1);
  });
});
