import { Link } from "react-router";
import type { Schemas } from "../../api/client";
import { panelPath } from "../../paths";

const SHOWN = 6;

/** Which drafted panels changed with the latest decision. */
export function Followed({ porch, panels }: { porch: string; panels: Schemas["FollowedPanel"][] }) {
  if (panels.length === 0) return null;
  const rest = panels.length - SHOWN;
  return (
    <p role="status">
      {panels.length === 1 ? "1 panel" : `${panels.length} panels`} changed with it:{" "}
      {panels.slice(0, SHOWN).map((panel, at) => (
        <span key={panel.slug}>
          {at > 0 && ", "}
          <Link className="link" to={panelPath(porch, panel.slug)}>
            {panel.label}
          </Link>
        </span>
      ))}
      {rest > 0 && ` and ${rest} more`}. What was decided by hand stays.
    </p>
  );
}
