import type { Schemas } from "../../api/client";
import { saysOn, saysUsually, type Role } from "./acts";

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
          <tr className="border-b border-line align-top">
            <th scope="row" className="px-2 py-1 text-left">
              Usually
            </th>
            {roles.map((role) => (
              <td key={role.slug} className="px-2 py-1">
                {saysUsually(role)}
              </td>
            ))}
          </tr>
          {panels.map((panel) => (
            <tr key={panel.slug} className="border-b border-line align-top">
              <th scope="row" className="px-2 py-1 text-left font-medium">
                {panel.label}
              </th>
              {roles.map((role) => (
                <td key={role.slug} className="px-2 py-1">
                  {role.panels.some((one) => one.panel === panel.slug) ? (
                    saysOn(
                      role,
                      panel.slug,
                      (name) => panel.columns.find((column) => column.name === name)?.label ?? name,
                    ).map((line) => <p key={line}>{line}</p>)
                  ) : (
                    <p className="text-faint">as usual</p>
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
