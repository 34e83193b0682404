import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { api, unwrap, type Schemas } from "../api/client";
import { Button } from "../ui/Button";
import { DialogFrame } from "../ui/DialogFrame";
import { Empty } from "../ui/Empty";
import { Failure } from "../ui/Failure";
import { Field, inputClass } from "../ui/Field";
import { Loading } from "../ui/Loading";
import { RemoveDialog } from "../ui/RemoveDialog";
import { formatMoment } from "../values/format";
import { peopleQuery, usePeopleChange, type RoleChoice } from "./peopleOf";
import { problemsOf } from "./problems";
import { Tokens } from "./Tokens";

type Member = Schemas["MemberInfo"];

/** Who is let into a porch. */
export function PeoplePage() {
  const { porch = "" } = useParams();
  const people = useQuery(peopleQuery(porch));
  const [isInviting, setInviting] = useState(false);
  if (people.isPending) return <Loading what="the people" />;
  if (!people.data) return <Failure error={people.error} onRetry={() => void people.refetch()} />;
  const { people: members, roles, tokens } = people.data;
  return (
    <div className="grid max-w-5xl gap-4">
      <title>People · Plain Porch</title>
      <div className="flex flex-wrap items-center gap-3">
        <h1 className="mr-auto text-2xl font-semibold">People</h1>
        {roles.length > 0 && (
          <Button
            tone="next"
            onClick={() => {
              setInviting(true);
            }}
          >
            Invite somebody
          </Button>
        )}
      </div>
      {roles.length === 0 ? (
        <Empty title="This porch has no roles yet.">
          <p className="mt-1 text-faint">
            A role says what people see and do. A developer makes them in the back room.
          </p>
        </Empty>
      ) : members.length === 0 ? (
        <Empty title="Nobody but the developers is let in yet." />
      ) : (
        <ul className="border-t border-line">
          {members.map((member) => (
            <MemberRow key={member.id} porch={porch} member={member} roles={roles} />
          ))}
        </ul>
      )}
      {roles.length > 0 && <Tokens porch={porch} tokens={tokens} roles={roles} />}
      {isInviting && (
        <Invite
          porch={porch}
          roles={roles}
          onClose={() => {
            setInviting(false);
          }}
        />
      )}
    </div>
  );
}

interface MemberRowProps {
  porch: string;
  member: Member;
  roles: RoleChoice[];
}

function MemberRow({ porch, member, roles }: MemberRowProps) {
  const path = { porch, person: member.id };
  const [isChanging, setChanging] = useState(false);
  const signOut = usePeopleChange(porch, () =>
    unwrap(api.POST("/api/porches/{porch}/people/{person}/sign-out", { params: { path } })),
  );
  const again = usePeopleChange(porch, () =>
    unwrap(api.POST("/api/porches/{porch}/people/{person}/invitation", { params: { path } })),
  );
  const remove = usePeopleChange(porch, () =>
    unwrap(api.DELETE("/api/porches/{porch}/people/{person}", { params: { path } })),
  );
  const role = roles.find((one) => one.slug === member.role);
  return (
    <li className="flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-line py-2.5">
      <div className="mr-auto min-w-52">
        <p className="font-medium">
          {member.name} <span className="font-normal text-faint">{member.email}</span>
        </p>
        <p className="text-sm text-faint">
          {role?.name ?? `${member.role}, a role that is gone`}
          {member.record !== null && ` · is ${member.record}`}
          {" · "}
          {member.isOff
            ? "kept out"
            : !member.hasCome
              ? "invited, not here yet"
              : member.seenAt === null
                ? "not seen lately"
                : `last seen ${formatMoment(member.seenAt)}`}
        </p>
        {again.isSuccess && <p role="status">The link is on its way again.</p>}
        {signOut.isSuccess && <p role="status">Signed out everywhere.</p>}
        <Failure error={again.error ?? signOut.error} />
      </div>
      <div className="flex flex-wrap gap-2">
        {!member.hasCome && (
          <Button
            disabled={again.isPending}
            onClick={() => {
              again.mutate(undefined);
            }}
          >
            Send the link again
          </Button>
        )}
        {member.hasCome && member.seenAt !== null && (
          <Button
            disabled={signOut.isPending}
            onClick={() => {
              signOut.mutate(undefined);
            }}
          >
            Sign out everywhere
          </Button>
        )}
        <Button
          onClick={() => {
            setChanging(true);
          }}
        >
          Change
        </Button>
        <RemoveDialog
          kind="person"
          name={member.name}
          isPending={remove.isPending}
          error={remove.error}
          onRemove={() => {
            remove.mutate(undefined);
          }}
        >
          <p>
            {member.name} is let in here no longer. The account stays, and so does what the logbook tells of what{" "}
            {member.name} did.
          </p>
        </RemoveDialog>
      </div>
      {isChanging && (
        <Change
          porch={porch}
          member={member}
          roles={roles}
          onClose={() => {
            setChanging(false);
          }}
        />
      )}
    </li>
  );
}

interface RoleFieldsProps {
  porch: string;
  roles: RoleChoice[];
  role: string;
  record: string | null;
  fields: Record<string, string>;
  onChange: (role: string, record: string | null) => void;
}

function RoleFields({ porch, roles, role, record, fields, onChange }: RoleFieldsProps) {
  const panel = roles.find((one) => one.slug === role)?.person ?? null;
  return (
    <>
      <Field label="Role" error={fields.role}>
        {(slots) => (
          <select
            {...slots}
            value={role}
            onChange={(event) => {
              onChange(event.target.value, null);
            }}
            className={inputClass}
          >
            {roles.map((one) => (
              <option key={one.slug} value={one.slug}>
                {one.name}
              </option>
            ))}
          </select>
        )}
      </Field>
      {panel !== null && (
        <RecordChoice
          porch={porch}
          panel={panel}
          record={record}
          error={fields.record}
          onChoose={(key) => {
            onChange(role, key);
          }}
        />
      )}
    </>
  );
}

interface RecordChoiceProps {
  porch: string;
  panel: string;
  record: string | null;
  error: string | undefined;
  onChoose: (key: string | null) => void;
}

/** Which record of a panel the person is. */
function RecordChoice({ porch, panel, record, error, onChoose }: RecordChoiceProps) {
  const [text, setText] = useState("");
  const found = useQuery({
    queryKey: ["records", porch, panel, "person", text],
    queryFn: ({ signal }) =>
      unwrap(
        api.GET("/api/porches/{porch}/panels/{panel}/records", {
          params: { path: { porch, panel }, query: { q: text } },
          signal,
        }),
      ),
    enabled: text.trim() !== "",
  });
  return (
    <Field
      label="Which record is the person?"
      error={error}
      hint={record === null ? "Without one the person sees none of what is tied to it." : `Now: ${record}`}
    >
      {(slots) => (
        <div className="grid gap-1">
          <input
            {...slots}
            type="search"
            value={text}
            placeholder="Search by name or number"
            onChange={(event) => {
              setText(event.target.value);
            }}
            className={inputClass}
          />
          <Failure error={found.error} />
          {found.data && (
            <ul aria-label="Found records" className="max-h-40 overflow-y-auto">
              {found.data.rows.length === 0 && <li className="text-faint">Nothing found.</li>}
              {found.data.rows.slice(0, 8).map((row) => (
                <li key={row.key}>
                  <button
                    type="button"
                    className="min-h-8 w-full rounded px-2 text-left hover:bg-tint"
                    onClick={() => {
                      onChoose(row.key);
                      setText("");
                    }}
                  >
                    {row.title} <span className="text-faint">{row.key}</span>
                  </button>
                </li>
              ))}
            </ul>
          )}
        </div>
      )}
    </Field>
  );
}

function Change({ porch, member, roles, onClose }: MemberRowProps & { onClose: () => void }) {
  const [role, setRole] = useState(member.role);
  const [record, setRecord] = useState(member.record);
  const [isOff, setOff] = useState(member.isOff);
  const change = usePeopleChange(
    porch,
    () =>
      unwrap(
        api.PUT("/api/porches/{porch}/people/{person}", {
          params: { path: { porch, person: member.id } },
          body: { role, record, isOff },
        }),
      ),
    onClose,
  );
  const { fields, other } = problemsOf(change.error, ["role", "record"]);
  return (
    <DialogFrame title={member.name} onOpenChange={onClose}>
      <form
        className="mt-3 grid gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate(undefined);
        }}
      >
        <RoleFields
          porch={porch}
          roles={roles}
          role={role}
          record={record}
          fields={fields}
          onChange={(chosen, key) => {
            setRole(chosen);
            setRecord(key);
          }}
        />
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            checked={isOff}
            onChange={(event) => {
              setOff(event.target.checked);
            }}
          />
          Kept out for now
        </label>
        <Failure error={other} />
        <div className="flex gap-2">
          <Button type="submit" tone="next" disabled={change.isPending}>
            Save
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </div>
      </form>
    </DialogFrame>
  );
}

function Invite({ porch, roles, onClose }: { porch: string; roles: RoleChoice[]; onClose: () => void }) {
  const [typed, setTyped] = useState({
    name: "",
    email: "",
    role: roles[0]?.slug ?? "",
    record: null as string | null,
  });
  const invite = usePeopleChange(porch, () =>
    unwrap(api.POST("/api/porches/{porch}/people", { params: { path: { porch } }, body: typed })),
  );
  const { fields, other } = problemsOf(invite.error, ["name", "email", "role", "record"]);
  if (invite.isSuccess)
    return (
      <DialogFrame title="Invited" onOpenChange={onClose}>
        <p className="mt-3 mb-4">A mail with a link is on its way to {typed.email}. It works for 7 days.</p>
        <Button tone="next" onClick={onClose}>
          Close
        </Button>
      </DialogFrame>
    );
  return (
    <DialogFrame title="Invite somebody" onOpenChange={onClose}>
      <form
        className="mt-3 grid gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          invite.mutate(undefined);
        }}
      >
        <Field label="Name" hint="The logbook calls the person so." error={fields.name}>
          {(slots) => (
            <input
              {...slots}
              value={typed.name}
              autoComplete="off"
              autoFocus
              required
              onChange={(event) => {
                setTyped({ ...typed, name: event.target.value });
              }}
              className={inputClass}
            />
          )}
        </Field>
        <Field label="Mail address" error={fields.email}>
          {(slots) => (
            <input
              {...slots}
              type="email"
              value={typed.email}
              autoComplete="off"
              required
              onChange={(event) => {
                setTyped({ ...typed, email: event.target.value });
              }}
              className={inputClass}
            />
          )}
        </Field>
        <RoleFields
          porch={porch}
          roles={roles}
          role={typed.role}
          record={typed.record}
          fields={fields}
          onChange={(role, record) => {
            setTyped({ ...typed, role, record });
          }}
        />
        <Failure error={other} />
        <div className="flex gap-2">
          <Button type="submit" tone="next" disabled={invite.isPending}>
            {invite.isPending ? "Inviting …" : "Invite"}
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </div>
      </form>
    </DialogFrame>
  );
}
