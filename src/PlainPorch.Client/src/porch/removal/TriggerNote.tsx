import type { Schemas } from "../../api/client";

/** Says what the database does besides, by triggers and rules of its own. */
export function TriggerNote({ triggers }: { triggers: Schemas["TableTrigger"][] }) {
  if (triggers.length === 0) return null;
  return (
    <p className="text-sm text-faint">
      The database acts, too: {triggers.map((one) => `${one.name} on ${one.table.name}`).join(", ")}. What these do
      besides cannot be taken back here.
    </p>
  );
}
