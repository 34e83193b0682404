import { useMutation } from "@tanstack/react-query";
import { api, unwrap, type Panel, type Schemas } from "../../api/client";
import { ApiError } from "../../api/problems";
import type { PanelAddress } from "../../api/queries";
import { importPath, panelPath } from "../../paths";
import { Button, ButtonLink } from "../../ui/Button";
import { Notice } from "../../ui/Notice";
import { formatCount } from "../../values/format";
import { KeepRecipe } from "./Recipes";
import { RejectedRows } from "./RejectedRows";

interface PanelImportResultProps {
  address: PanelAddress;
  panel: Panel;
  found: Schemas["PanelImportDto"];
  onChange: () => Promise<unknown>;
}

/** What an import did, with the way to take it back. */
export function PanelImportResult({ address, panel, found, onChange }: PanelImportResultProps) {
  const path = { ...address, import: found.status.id };
  const undo = useMutation({
    mutationFn: () =>
      unwrap(api.POST("/api/porches/{porch}/panels/{panel}/imports/{import}/undo", { params: { path } })),
    onSettled: onChange,
  });
  const done = found.result;
  if (!done) return null;
  const isBack = found.status.state === "takenBack";
  const parts = [
    done.new > 0 && `${formatCount(done.new)} added`,
    done.changed > 0 && `${formatCount(done.changed)} changed`,
    done.setAside > 0 && `${formatCount(done.setAside)} set aside`,
    done.same > 0 && `${formatCount(done.same)} were as the file says`,
    done.rejected.length > 0 && `${formatCount(done.rejected.length)} rows left out`,
  ].filter((part) => part !== false);
  return (
    <>
      <Notice
        title={isBack ? "It was taken back." : "It is done."}
        actions={
          <>
            <ButtonLink tone="next" to={panelPath(address.porch, address.panel)}>
              Go to {panel.label}
            </ButtonLink>
            <ButtonLink to={importPath(address.porch, address.panel)}>Import another file</ButtonLink>
            {!isBack && (
              <Button
                disabled={undo.isPending}
                onClick={() => {
                  undo.mutate();
                }}
              >
                {undo.isPending ? "Taking it back …" : "Take it back"}
              </Button>
            )}
          </>
        }
      >
        {found.status.files.map((file) => file.name).join(", ")}: {parts.join(", ")}.
        {undo.data && (
          <>
            {" "}
            {formatCount(undo.data.done)} records are as they were before
            {undo.data.left > 0 &&
              `; ${formatCount(undo.data.left)} were left, because somebody has changed or removed them since`}
            .
          </>
        )}
      </Notice>
      {undo.isError && (
        <Notice tone="danger" title="It was not taken back.">
          {undo.error instanceof ApiError
            ? Object.values(undo.error.fields).join(" ") || undo.error.message
            : undo.error.message}
        </Notice>
      )}
      {!isBack && <KeepRecipe address={address} id={found.status.id} />}
      {!isBack && done.rejected.length > 0 && (
        <RejectedRows
          rows={done.rejected}
          columns={done.fileColumns}
          href={`/api/porches/${address.porch}/panels/${address.panel}/imports/${found.status.id}/rejected.csv`}
        />
      )}
    </>
  );
}
