import { EditorContent, useEditor, useEditorState, type Editor } from "@tiptap/react";
import { StarterKit } from "@tiptap/starter-kit";
import { useEffect, useState } from "react";
import type { Column } from "../../api/client";
import { inputClass, type FieldSlots } from "../../ui/Field";
import { canBeFormatted, fromEditor, toEditor } from "./formattedText";

interface FormattedInputProps extends FieldSlots {
  column: Column;
  typed: string;
  onType: (typed: string) => void;
}

/** A text with emphasis, headings and lists, as it looks; or as HTML, where it has parts that could not be kept otherwise. */
export function FormattedInput(props: FormattedInputProps) {
  // Decided once: what is typed as HTML must not turn into the other on the way.
  const [isKnown] = useState(() => canBeFormatted(props.typed));
  return isKnown ? <Looking {...props} /> : <Written {...props} />;
}

function Written({ column, typed, onType, ...slots }: FormattedInputProps) {
  return (
    <div className="grid gap-1">
      <textarea
        {...slots}
        data-column={column.name}
        rows={4}
        spellCheck={false}
        value={typed}
        className={`${inputClass} field-sizing-content max-h-80 font-mono text-sm`}
        onChange={({ target }) => {
          onType(target.value);
        }}
      />
      <p className="text-sm text-faint">
        Shown as HTML, for it has parts that would be lost otherwise. What could do harm is left out when it is saved.
      </p>
    </div>
  );
}

function Looking({ column, typed, onType, ...slots }: FormattedInputProps) {
  const editor = useEditor({
    extensions: [StarterKit.configure({ heading: { levels: [2, 3] }, link: { openOnClick: false }, codeBlock: false })],
    content: toEditor(typed),
    editorProps: {
      attributes: {
        id: slots.id,
        role: "textbox",
        "aria-multiline": "true",
        "aria-label": column.label,
        "data-column": column.name,
        class: "formatted min-h-24 px-2.5 py-1.5 focus:outline-none",
        ...(slots["aria-invalid"] && { "aria-invalid": "true" }),
        ...(slots["aria-describedby"] && { "aria-describedby": slots["aria-describedby"] }),
      },
    },
    onUpdate: ({ editor: changed }) => {
      onType(fromEditor(changed.getHTML()));
    },
  });
  // What was put back or undone beside it.
  useEffect(() => {
    if (fromEditor(editor.getHTML()) === typed || toEditor(typed) === editor.getHTML()) return;
    if (!editor.isFocused) editor.commands.setContent(toEditor(typed), { emitUpdate: false });
  }, [editor, typed]);
  return (
    <div
      className={`rounded border bg-sheet focus-within:outline-2 focus-within:outline-accent ${slots["aria-invalid"] ? "border-danger" : "border-edge"}`}
    >
      <Tools editor={editor} label={column.label} />
      <EditorContent editor={editor} />
    </div>
  );
}

function Tools({ editor, label }: { editor: Editor; label: string }) {
  const is = useEditorState({
    editor,
    selector: ({ editor: now }) => ({
      bold: now.isActive("bold"),
      italic: now.isActive("italic"),
      heading: now.isActive("heading"),
      bullets: now.isActive("bulletList"),
      numbers: now.isActive("orderedList"),
    }),
  });
  return (
    <div role="toolbar" aria-label={`Formatting of ${label}`} className="flex flex-wrap gap-1 border-b border-line p-1">
      <Tool label="Bold" keys="Ctrl + B" isOn={is.bold} onPress={() => editor.chain().focus().toggleBold().run()} />
      <Tool
        label="Italic"
        keys="Ctrl + I"
        isOn={is.italic}
        onPress={() => editor.chain().focus().toggleItalic().run()}
      />
      <Tool
        label="Heading"
        keys="Ctrl + Alt + 2"
        isOn={is.heading}
        onPress={() => editor.chain().focus().toggleHeading({ level: 2 }).run()}
      />
      <Tool
        label="List"
        keys="Ctrl + Shift + 8"
        isOn={is.bullets}
        onPress={() => editor.chain().focus().toggleBulletList().run()}
      />
      <Tool
        label="Numbered list"
        keys="Ctrl + Shift + 7"
        isOn={is.numbers}
        onPress={() => editor.chain().focus().toggleOrderedList().run()}
      />
    </div>
  );
}

interface ToolProps {
  label: string;
  keys: string;
  isOn: boolean;
  onPress: () => void;
}

function Tool({ label, keys, isOn, onPress }: ToolProps) {
  return (
    <button
      type="button"
      // Its keys work in the text itself, and Tab goes from field to field.
      tabIndex={-1}
      aria-pressed={isOn}
      title={`${label} (${keys})`}
      className={`min-h-7 rounded px-2 text-sm ${isOn ? "bg-accent-tint font-medium" : "hover:bg-tint"}`}
      onMouseDown={(event) => {
        event.preventDefault();
      }}
      onClick={onPress}
    >
      {label}
    </button>
  );
}
