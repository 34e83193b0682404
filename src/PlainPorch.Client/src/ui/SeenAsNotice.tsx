import { seeAs, type SeenAs } from "../api/session";
import { Button } from "./Button";

/** Says that a porch is looked at as a role sees it. */
export function SeenAsNotice({ as }: { as: SeenAs }) {
  return (
    <p role="status" className="flex flex-wrap items-center gap-3 bg-accent-tint px-4 py-1.5 sm:px-6">
      <span>
        You see this porch as <strong>{as.role}</strong>
        {as.record !== "" && `, being ${as.record}`}. Nothing is saved so.
      </span>
      <Button
        onClick={() => {
          seeAs(null);
          window.location.reload();
        }}
      >
        See it as it is
      </Button>
    </p>
  );
}
