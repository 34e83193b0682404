import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Button } from "../../ui/Button";
import { Failure } from "../../ui/Failure";
import { Tick } from "../../ui/Tick";
import { formatMoment, formatSize } from "../../values/format";

interface FolderFilesProps {
  means: Schemas["ImportMeans"];
  onTake: (paths: string[]) => Promise<void>;
}

/** The files that lie in the server's folder, to be chosen there. */
export function FolderFiles({ means, onTake }: FolderFilesProps) {
  const [chosen, setChosen] = useState<string[]>([]);
  const take = useMutation({ mutationFn: () => onTake(chosen) });
  return (
    <section className="grid gap-2">
      <h2 className="text-lg font-semibold">Or from the server’s folder</h2>
      {means.files.length === 0 ? (
        <p className="text-faint">
          There is no file in <span className="font-medium">{means.folder}</span> that can be read. Put one there, such
          as one that is too large to be sent.
        </p>
      ) : (
        <>
          <ul className="border-t border-line">
            {means.files.map((file) => (
              <li key={file.path} className="flex flex-wrap items-center gap-x-4 border-b border-line">
                <Tick
                  label={file.path}
                  isOn={chosen.includes(file.path)}
                  onTurn={(isOn) => {
                    setChosen(isOn ? [...chosen, file.path] : chosen.filter((path) => path !== file.path));
                  }}
                />
                <span className="text-sm text-faint">
                  {formatSize(file.size)}, {formatMoment(file.changedAt)}
                </span>
              </li>
            ))}
          </ul>
          <div>
            <Button
              disabled={chosen.length === 0 || take.isPending}
              onClick={() => {
                take.mutate();
              }}
            >
              {chosen.length === 0
                ? "Look at files"
                : chosen.length === 1
                  ? "Look at 1 file"
                  : `Look at ${chosen.length} files`}
            </Button>
          </div>
        </>
      )}
      <Failure error={take.error} />
    </section>
  );
}
