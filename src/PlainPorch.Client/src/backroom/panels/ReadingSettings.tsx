import { useId, useState } from "react";
import type { Schemas } from "../../api/client";
import { Field, inputClass, type FieldSlots } from "../../ui/Field";
import { Tick } from "../../ui/Tick";
import { codesFor, joinWords, settingOf, splitTexts, splitWords, withSetting, type Reading } from "./readings";

type Setting = Schemas["ReadingSetting"];

interface ReadingSettingsProps {
  kind: Schemas["ReadingKind"];
  reading: Reading;
  /** Values of the column, to begin a list of values with. */
  samples: string[];
  onChange: (reading: Reading) => void;
}

/** The settings of a reading, as its kind describes them. */
export function ReadingSettings({ kind, reading, samples, onChange }: ReadingSettingsProps) {
  const pattern = settingOf(reading, "pattern");
  const matters = (setting: Setting) =>
    !setting.onlyWithout || typeof pattern !== "string" || !pattern.includes(setting.onlyWithout);
  return kind.settings.filter(matters).map((setting) => {
    const set = (value: unknown) => {
      onChange(withSetting(reading, setting.name, value));
    };
    const value = settingOf(reading, setting.name);
    if (setting.sort === "yesNo")
      return <Tick key={setting.name} label={setting.label} isOn={value === true} onTurn={set} />;
    return (
      <Field key={setting.name} label={setting.label} hint={setting.hint ?? undefined}>
        {(slots) =>
          setting.sort === "choice" ? (
            <select
              {...slots}
              className={inputClass}
              value={typeof value === "string" ? value : ""}
              onChange={(event) => {
                set(event.target.value);
              }}
            >
              {setting.choices.map((choice) => (
                <option key={choice.value} value={choice.value}>
                  {choice.label}
                </option>
              ))}
            </select>
          ) : (
            <Typed slots={slots} setting={setting} value={value} samples={codesFor(reading, samples)} onKeep={set} />
          )
        }
      </Field>
    );
  });
}

interface TypedProps {
  slots: FieldSlots;
  setting: Setting;
  value: unknown;
  samples: string[];
  onKeep: (value: unknown) => void;
}

/** A setting that is typed: kept when one leaves it or presses Enter. */
function Typed({ slots, setting, value, samples, onKeep }: TypedProps) {
  const list = useId();
  const [typed, setTyped] = useState(() => write(setting, value));
  const keep = () => {
    const read = parse(setting, typed);
    if (JSON.stringify(read) !== JSON.stringify(value ?? null)) onKeep(read);
  };
  if (setting.sort === "words")
    return (
      <textarea
        {...slots}
        rows={5}
        className={`${inputClass} field-sizing-content font-mono text-sm`}
        placeholder={samples.map((sample) => `${sample} = …`).join("\n")}
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value);
        }}
        onBlur={keep}
      />
    );
  return (
    <>
      <input
        {...slots}
        className={inputClass}
        autoComplete="off"
        inputMode={setting.sort === "whole" ? "numeric" : "text"}
        list={setting.choices.length > 0 ? list : undefined}
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value);
        }}
        onBlur={keep}
        onKeyDown={(event) => {
          if (event.key === "Enter") keep();
        }}
      />
      {setting.choices.length > 0 && (
        <datalist id={list}>
          {setting.choices.map((choice) => (
            <option key={choice.value} value={choice.value} />
          ))}
        </datalist>
      )}
    </>
  );
}

function write(setting: Setting, value: unknown): string {
  if (value === null || value === undefined) return "";
  if (setting.sort === "texts") return (value as string[]).join(", ");
  if (setting.sort === "words") return joinWords(value as Schemas["WordFor"][]);
  return typeof value === "number" || typeof value === "string" ? String(value) : "";
}

// What cannot be left blank is not sent so: a number that is none stays what it was.
function parse(setting: Setting, typed: string): unknown {
  switch (setting.sort) {
    case "texts":
      return splitTexts(typed);
    case "words":
      return splitWords(typed);
    case "whole":
      return typed.trim() === "" ? (setting.name === "decimals" ? null : 0) : Number(typed);
    default:
      return typed.trim() === "" && (setting.name === "openEnd" || setting.name === "unit") ? null : typed.trim();
  }
}
