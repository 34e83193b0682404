import type { Schemas } from "../../api/client";
import { saysOn, type Role } from "./acts";

/** Who may do what with which panel. */
export function RightsTable({ roles, panels }: { roles: Role[]; panels: Schemas["RolePanel"][] }) {
  return (
    <div className="overflow-x-auto print:overflow-visible" tabIndex={0} role="region" aria-label="Who may do what">
      <table className="w-full border-collapse text-[15px] print:text-xs">
        <thead>
          <tr className="border-b border-edge">
            <th scope="col" className="px-2 py-1 text-left">
              Panel
            </th>
            {roles.map((role) => (
              <th key={role.slug} scope="col" className="px-2 py-1 text-left">
                {role.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {panels.map((panel) => (
            <tr key={panel.slug} className="border-b border-line align-top">
              <th scope="row" className="px-2 py-1 text-left font-medium">
                {panel.label}
              </th>
              {roles.map((role) => (
                <td key={role.slug} className="px-2 py-1">
                  {saysOn(role, panel.slug).map((line) => (
                    <p key={line} className={line === "does not see it" ? "text-faint" : undefined}>
                      {line}
                    </p>
                  ))}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
