import { useState } from "react";
import { api, unwrap, type Schemas } from "../api/client";
import { Button } from "../ui/Button";
import { Failure } from "../ui/Failure";
import { Field, inputClass } from "../ui/Field";
import { Notice } from "../ui/Notice";
import { formatMoment } from "../values/format";
import { usePeopleChange, type RoleChoice } from "./peopleOf";
import { problemsOf } from "./problems";

interface TokensProps {
  porch: string;
  tokens: Schemas["TokenInfo"][];
  roles: RoleChoice[];
}

/** The secrets by which programs act. */
export function Tokens({ porch, tokens, roles }: TokensProps) {
  const [typed, setTyped] = useState({ name: "", role: roles[0]?.slug ?? "", days: 90 });
  const make = usePeopleChange(porch, () =>
    unwrap(api.POST("/api/porches/{porch}/tokens", { params: { path: { porch } }, body: typed })),
  );
  const remove = usePeopleChange(porch, (token: number) =>
    unwrap(api.DELETE("/api/porches/{porch}/tokens/{token}", { params: { path: { porch, token } } })),
  );
  const { fields, other } = problemsOf(make.error, ["name", "role", "days"]);
  const made = make.data as Schemas["TokenMade"] | undefined;
  return (
    <section aria-labelledby="tokens" className="mt-4 grid gap-3 border-t border-line pt-3">
      <h2 id="tokens" className="text-xl font-semibold">
        Programs
      </h2>
      <p className="max-w-prose text-faint">
        A program signs in with a token, in the header Authorization: Bearer. It may do what its role may.
      </p>
      <ul>
        {tokens.map((token) => (
          <li key={token.id} className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line py-2">
            <span className="mr-auto">
              {token.name}{" "}
              <span className="text-faint">
                {roles.find((role) => role.slug === token.role)?.name ?? token.role} · until{" "}
                {formatMoment(token.endsAt)} · made by {token.madeBy}
              </span>
            </span>
            <Button
              disabled={remove.isPending}
              onClick={() => {
                remove.mutate(token.id);
              }}
            >
              End it
            </Button>
          </li>
        ))}
      </ul>
      <Failure error={remove.error} />
      {made && (
        <Notice title="The token is shown this once">
          <p className="font-mono break-all">{made.secret}</p>
        </Notice>
      )}
      <form
        className="flex flex-wrap items-start gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          make.mutate(undefined);
        }}
      >
        <Field label="What it is for" error={fields.name}>
          {(slots) => (
            <input
              {...slots}
              value={typed.name}
              required
              onChange={(event) => {
                setTyped({ ...typed, name: event.target.value });
              }}
              className={inputClass}
            />
          )}
        </Field>
        <Field label="Acts as" error={fields.role}>
          {(slots) => (
            <select
              {...slots}
              value={typed.role}
              onChange={(event) => {
                setTyped({ ...typed, role: event.target.value });
              }}
              className={inputClass}
            >
              {roles.map((role) => (
                <option key={role.slug} value={role.slug}>
                  {role.name}
                </option>
              ))}
            </select>
          )}
        </Field>
        <Field label="Days" error={fields.days}>
          {(slots) => (
            <input
              {...slots}
              type="number"
              min={1}
              max={366}
              value={typed.days}
              onChange={(event) => {
                setTyped({ ...typed, days: Number(event.target.value) });
              }}
              className={`${inputClass} max-w-24`}
            />
          )}
        </Field>
        <Button type="submit" className="mt-6" disabled={make.isPending}>
          Make a token
        </Button>
        <Failure error={other} />
      </form>
    </section>
  );
}
