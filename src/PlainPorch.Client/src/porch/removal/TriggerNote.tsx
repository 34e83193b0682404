import type { Schemas } from "../../api/client";

/** Says what the database does besides, by triggers and rules of its own. */
export function TriggerNote({ triggers }: { triggers: Schemas["TableTrigger"][] }) {
  if (triggers.length === 0) return null;
  return (
    <p className="text-sm text-faint">
      The database also reacts: {triggers.map((one) => `${one.name} on ${one.table.name}`).join(", ")}. Their effects
      cannot be undone here.
    </p>
  );
}
