import type { PanelDefinition } from "../../api/client";
import type { PanelAddress } from "../../api/queries";
import { DraftField } from "./DraftField";
import { RuleField } from "./RuleField";
import { SetupPart } from "./SetupPart";

const acts = [
  { act: "changeIf", label: "Can be changed if (all, if it is empty)", message: "This cannot be changed any more." },
  { act: "removeIf", label: "Can be removed if (all, if it is empty)", message: "This cannot be removed." },
] as const;

interface ActSetupProps {
  address: PanelAddress;
  definition: PanelDefinition;
  errors: Record<string, string>;
  onChange: (part: Partial<PanelDefinition>) => void;
}

/** Which records can be changed and removed, by what they are before. */
export function ActSetup({ address, definition, errors, onChange }: ActSetupProps) {
  const set = acts.filter(({ act }) => definition[act]).length;
  return (
    <SetupPart
      title={
        <>
          Records that can be changed and removed{" "}
          <span className="font-normal text-faint">{set === 0 ? "all" : "not all"}</span>
        </>
      }
    >
      {acts.map(({ act, label, message }) => {
        const now = definition[act] ?? null;
        return (
          <RuleField
            key={`${act} ${now?.condition ?? ""}`}
            address={address}
            label={label}
            value={now?.condition ?? ""}
            error={errors[`${act}.condition`] ?? errors[act]}
            onKeep={(condition) => {
              onChange({ [act]: condition.trim() === "" ? null : { message, ...now, condition } });
            }}
          >
            {now && (
              <DraftField
                label="What is said of the others"
                value={now.message}
                error={errors[`${act}.message`]}
                onKeep={(text) => {
                  onChange({ [act]: { ...now, message: text } });
                }}
              />
            )}
          </RuleField>
        );
      })}
    </SetupPart>
  );
}
