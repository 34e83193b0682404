import { useQuery } from "@tanstack/react-query";
import type { PanelColumn, Schemas } from "../../api/client";
import { lookAtFilesQuery, type PanelAddress } from "../../api/queries";
import { Button } from "../../ui/Button";
import { Tick } from "../../ui/Tick";
import { formatCount } from "../../values/format";
import { DraftField } from "./DraftField";

interface FilesSetupProps {
  address: PanelAddress;
  column: PanelColumn;
  errors: Record<string, string>;
  onChange: (part: Partial<PanelColumn>) => void;
}

type Files = NonNullable<PanelColumn["files"]>;

/** Whether a column's texts are paths of files, in which folder these lie, and whether they are there. */
export function FilesSetup({ address, column, errors, onChange }: FilesSetupProps) {
  const files = column.files ?? null;
  const error = errors[`columns.${column.name}.files`];
  const change = (part: Partial<Files>) => {
    onChange({ files: { ...files, ...part } });
  };
  return (
    <fieldset className="grid gap-3 border-t border-line pt-2 sm:grid-cols-2">
      <legend className="pr-2 text-sm font-medium">Files</legend>
      <div className="grid gap-1 sm:col-span-2">
        <Tick
          label="Its texts are paths of files in a folder of the server"
          isOn={files !== null}
          onTurn={(isOn) => {
            onChange({ files: isOn ? {} : null, isPicture: false });
          }}
        />
        {files && (
          <Tick
            label="The files are pictures"
            isOn={column.isPicture ?? false}
            onTurn={(isPicture) => {
              onChange({ isPicture });
            }}
          />
        )}
      </div>
      {files && (
        <>
          <DraftField
            key={`folder ${column.name}`}
            label="Folder (blank for the server's own)"
            value={files.folder ?? ""}
            error={error}
            onKeep={(folder) => {
              change({ folder });
            }}
          />
          <DraftField
            key={`before ${column.name} ${files.before}`}
            label="What stands for it in the paths (blank for nothing)"
            value={files.before ?? ""}
            error={undefined}
            onKeep={(before) => {
              change({ before });
            }}
          />
          {!column.isPicture && (
            <DraftField
              key={`endings ${column.name}`}
              label="Endings that are taken (such as pdf, docx; blank for all)"
              value={(files.endings ?? []).join(", ")}
              error={undefined}
              onKeep={(text) => {
                change({ endings: text.split(/[\s,;]+/).filter((ending) => ending !== "") });
              }}
            />
          )}
          <Look address={address} column={column.name} files={files} onTake={change} />
        </>
      )}
    </fieldset>
  );
}

interface LookProps {
  address: PanelAddress;
  column: string;
  files: Files;
  onTake: (part: Partial<Files>) => void;
}

/** What was found of the files, by some records' paths. */
function Look({ address, column, files, onTake }: LookProps) {
  const look = useQuery(lookAtFilesQuery(address, column, files));
  if (!look.data) return null;
  return (
    <div className="grid justify-items-start gap-1.5 text-sm sm:col-span-2" aria-live="polite">
      <p>{saysOf(look.data, files)}</p>
      {look.data.missing.length > 0 && look.data.isSetUp && (
        <p className="break-all text-faint">Not found: {look.data.missing.join(" · ")}</p>
      )}
      {look.data.before !== null && (
        <Button
          onClick={() => {
            onTake({ before: look.data.before ?? "" });
          }}
        >
          {look.data.before === "" ? "Take the paths as they are" : `Take ${look.data.before} for this folder`}
        </Button>
      )}
    </div>
  );
}

function saysOf(look: Schemas["FolderLook"], { folder }: Files): string {
  if (!look.isSetUp)
    return "This server has no folder for files yet. Whoever runs it names one by PORCH_FILES; until then the paths are shown as text.";
  const lie =
    look.files === null
      ? `There is no folder ${folder} yet; it is made when the first file is sent.`
      : `${look.files >= 10_000 ? "10,000 files or more lie" : look.files === 1 ? "1 file lies" : `${formatCount(look.files)} files lie`} there.`;
  if (look.looked === 0) return lie;
  return `${lie} Of ${formatCount(look.looked)} paths that were looked at, ${formatCount(look.found)} lead to a file.`;
}
