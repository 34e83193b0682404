import { acceptCompletion, autocompletion, completionKeymap, startCompletion } from "@codemirror/autocomplete";
import { defaultKeymap, history, historyKeymap } from "@codemirror/commands";
import { setDiagnostics } from "@codemirror/lint";
import { EditorState, RangeSetBuilder } from "@codemirror/state";
import { Decoration, EditorView, ViewPlugin, keymap, placeholder, type DecorationSet } from "@codemirror/view";
import { useEffect, useRef } from "react";
import type { Schemas } from "../../api/client";
import { completionsAt, piecesOf } from "./ruleText";

export interface RuleEditorProps {
  label: string;
  value: string;
  words: Schemas["RuleWords"] | undefined;
  problem: Schemas["RuleProblem"] | null;
  onType: (text: string) => void;
  onLeave: () => void;
}

const colours = ViewPlugin.fromClass(
  class {
    decorations: DecorationSet;

    constructor(view: EditorView) {
      this.decorations = coloured(view.state.doc.toString());
    }

    update(change: { docChanged: boolean; state: EditorState }) {
      if (change.docChanged) this.decorations = coloured(change.state.doc.toString());
    }
  },
  { decorations: (plugin) => plugin.decorations },
);

const classes = {
  keyword: "font-semibold",
  text: "text-danger-deep",
  number: "text-accent-deep",
  name: "text-accent",
  function: "italic",
  sign: "text-faint",
};

function coloured(text: string): DecorationSet {
  const builder = new RangeSetBuilder<Decoration>();
  for (const { from, to, sort } of piecesOf(text)) builder.add(from, to, Decoration.mark({ class: classes[sort] }));
  return builder.finish();
}

const look = EditorView.theme({
  "&": { backgroundColor: "var(--color-sheet)", border: "1px solid var(--color-edge)", borderRadius: "4px" },
  "&.cm-focused": { outline: "2px solid var(--color-accent)", outlineOffset: "1px" },
  ".cm-content": { fontFamily: "inherit", padding: "6px 0" },
  ".cm-tooltip": { backgroundColor: "var(--color-sheet)", border: "1px solid var(--color-edge)" },
  ".cm-tooltip-autocomplete ul li[aria-selected]": {
    backgroundColor: "var(--color-accent-tint)",
    color: "var(--color-ink)",
  },
  ".cm-completionDetail": { color: "var(--color-faint)", fontStyle: "normal" },
});

/** An expression, typed with completion and colours; what is wrong with it is underlined. Tab leaves it. */
export function RuleEditor({ label, value, words, problem, onType, onLeave }: RuleEditorProps) {
  const place = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const latest = useRef({ words, onType, onLeave, value });
  useEffect(() => {
    latest.current = { words, onType, onLeave, value };
  });
  useEffect(() => {
    if (!place.current) return;
    const editor = new EditorView({
      parent: place.current,
      state: EditorState.create({
        doc: latest.current.value,
        extensions: [
          history(),
          colours,
          look,
          EditorView.lineWrapping,
          EditorView.contentAttributes.of({ "aria-label": label, "aria-multiline": "true" }),
          placeholder("such as departure >= arrival"),
          autocompletion({
            icons: false,
            override: [
              ({ state, pos, explicit }) => {
                const { words: known } = latest.current;
                const found = known && completionsAt(state.doc.toString(), pos, known);
                if (!found) return null;
                if (!explicit && found.from === pos && state.sliceDoc(pos - 1, pos) !== ".") return null;
                return {
                  from: found.from,
                  filter: false,
                  options: found.words.slice(0, 50).map((word) => ({
                    label: word.name,
                    detail: word.says,
                    apply: word.takesSeveral ? `${word.name}(` : word.name,
                  })),
                };
              },
            ],
          }),
          keymap.of([
            { key: "Tab", run: acceptCompletion },
            { key: "Ctrl-Space", run: startCompletion },
            ...completionKeymap,
            ...defaultKeymap,
            ...historyKeymap,
          ]),
          EditorView.updateListener.of((change) => {
            if (change.docChanged) latest.current.onType(change.state.doc.toString());
          }),
          EditorView.domEventHandlers({
            blur: () => {
              latest.current.onLeave();
            },
          }),
        ],
      }),
    });
    view.current = editor;
    return () => {
      editor.destroy();
      view.current = null;
    };
  }, [label]);
  useEffect(() => {
    const editor = view.current;
    if (!editor) return;
    const length = editor.state.doc.length;
    const end = Math.min(problem?.place.end ?? 0, length);
    const start = Math.min(problem?.place.start ?? 0, Math.max(end - 1, 0));
    editor.dispatch(
      setDiagnostics(
        editor.state,
        problem === null ? [] : [{ from: start, to: end, severity: "error", message: problem.message }],
      ),
    );
  }, [problem]);
  return <div ref={place} />;
}
