import { useMutation } from "@tanstack/react-query";
import { AlertDialog } from "radix-ui";
import { useState } from "react";
import { api, unwrap, type Schemas } from "../../api/client";
import { useRecordsChanged } from "../../api/recordsChanged";
import { Button } from "../../ui/Button";
import { QuestionFrame } from "../../ui/DialogFrame";
import { Failure } from "../../ui/Failure";
import { formatRecords } from "../../values/format";

interface ChangeBackProps {
  porch: string;
  entry: Schemas["LogEntry"];
}

/** Takes back what an entry tells that several records were given together, in those that nobody has changed since. */
export function ChangeBack({ porch, entry }: ChangeBackProps) {
  const [isAsking, setAsking] = useState(false);
  const tell = useRecordsChanged();
  const undo = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/porches/{porch}/panels/{panel}/changes/undo", {
          params: { path: { porch, panel: entry.panel } },
          body: { entry: entry.id },
        }),
      ),
    onSuccess: () => {
      setAsking(false);
      return tell(porch);
    },
  });
  if (undo.data)
    return (
      <p role="status" className="ml-4 text-faint">
        Changed back in {formatRecords(undo.data.changed)}.
        {undo.data.notFound > 0 &&
          ` ${formatRecords(undo.data.notFound)} changed or removed since stayed as they were.`}
      </p>
    );
  return (
    <div className="ml-4">
      <Button
        onClick={() => {
          undo.reset();
          setAsking(true);
        }}
      >
        Change back …
      </Button>
      {isAsking && (
        <AlertDialog.Root open>
          <QuestionFrame
            title={`Change ${formatRecords(entry.count)} back?`}
            onEscapeKeyDown={() => {
              if (!undo.isPending) setAsking(false);
            }}
          >
            <AlertDialog.Description className="my-3">
              They get again what they had before {entry.title} {entry.count > 1 ? "and the others were" : "was"}{" "}
              changed. What somebody has changed since stays.
            </AlertDialog.Description>
            {undo.isError && <Failure error={undo.error} />}
            <div className="flex flex-wrap justify-end gap-2">
              <AlertDialog.Cancel asChild>
                <Button
                  disabled={undo.isPending}
                  onClick={() => {
                    setAsking(false);
                  }}
                >
                  Cancel
                </Button>
              </AlertDialog.Cancel>
              <Button
                tone="next"
                disabled={undo.isPending}
                onClick={() => {
                  undo.mutate();
                }}
              >
                {undo.isPending ? "Changing back …" : "Change back"}
              </Button>
            </div>
          </QuestionFrame>
        </AlertDialog.Root>
      )}
    </div>
  );
}
