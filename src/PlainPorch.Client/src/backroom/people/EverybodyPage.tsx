import { queryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, unwrap, type Schemas } from "../../api/client";
import { ApiError } from "../../api/problems";
import { sessionQuery } from "../../api/session";
import { Button } from "../../ui/Button";
import { Failure } from "../../ui/Failure";
import { Field, inputClass } from "../../ui/Field";
import { Loading } from "../../ui/Loading";
import { formatMoment } from "../../values/format";

const everybodyQuery = queryOptions({
  queryKey: ["everybody"],
  queryFn: ({ signal }) => unwrap(api.GET("/api/people", { signal })),
});

/** Everybody who can sign in; and whoever sets porches up. */
export function EverybodyPage() {
  const everybody = useQuery(everybodyQuery);
  const own = useQuery(sessionQuery).data?.person?.id;
  return (
    <div className="grid max-w-4xl gap-4">
      <title>Everybody · Plain Porch</title>
      <p>
        <Link to="/back/sources" className="link">
          ← Sources
        </Link>
      </p>
      <h1 className="text-2xl font-semibold">Everybody</h1>
      <p className="max-w-prose text-faint">
        Developers see the back room, and everything in every porch. Others are let into a porch on its page People.{" "}
        <Link to="/back/access-log" className="link">
          Sign-ins and changed rights
        </Link>
      </p>
      {everybody.isPending && <Loading what="everybody" />}
      {everybody.isError && <Failure error={everybody.error} onRetry={() => void everybody.refetch()} />}
      {everybody.data && (
        <ul className="border-t border-line">
          {everybody.data.map((person) => (
            <PersonRow key={person.id} person={person} isOwn={person.id === own} />
          ))}
        </ul>
      )}
      <InviteDeveloper />
    </div>
  );
}

function PersonRow({ person, isOwn }: { person: Schemas["PersonInfo"]; isOwn: boolean }) {
  const client = useQueryClient();
  const path = { person: person.id };
  const done = { onSettled: () => client.invalidateQueries({ queryKey: everybodyQuery.queryKey }) };
  const change = useMutation({
    mutationFn: (part: { isDeveloper?: boolean; isOff?: boolean }) =>
      unwrap(
        api.PUT("/api/people/{person}", {
          params: { path },
          body: { isDeveloper: person.isDeveloper, isOff: person.isOff, ...part },
        }),
      ),
    ...done,
  });
  const removeFactor = useMutation({
    mutationFn: () => unwrap(api.POST("/api/people/{person}/factor-removal", { params: { path } })),
    ...done,
  });
  return (
    <li className="flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-line py-2.5">
      <div className="mr-auto min-w-52">
        <p className="font-medium">
          {person.name} <span className="font-normal text-faint">{person.email}</span>
        </p>
        <p className="text-sm text-faint">
          {person.isDeveloper ? "developer" : person.porches.length > 0 ? person.porches.join(", ") : "in no porch"}
          {person.hasFactor && " · second factor"}
          {" · "}
          {person.isOff
            ? "kept out"
            : !person.hasCome
              ? "invited, not here yet"
              : person.seenAt === null
                ? "not seen lately"
                : `last seen ${formatMoment(person.seenAt)}`}
        </p>
        <Failure error={change.error ?? removeFactor.error} />
      </div>
      {!isOwn && (
        <div className="flex flex-wrap gap-2">
          {person.hasFactor && (
            <Button
              disabled={removeFactor.isPending}
              onClick={() => {
                removeFactor.mutate();
              }}
            >
              Take the second factor away
            </Button>
          )}
          <Button
            disabled={change.isPending}
            onClick={() => {
              change.mutate({ isDeveloper: !person.isDeveloper });
            }}
          >
            {person.isDeveloper ? "No developer any more" : "Make a developer"}
          </Button>
          <Button
            disabled={change.isPending}
            onClick={() => {
              change.mutate({ isOff: !person.isOff });
            }}
          >
            {person.isOff ? "Let in again" : "Keep out"}
          </Button>
        </div>
      )}
    </li>
  );
}

const empty = { name: "", email: "" };

function InviteDeveloper() {
  const [typed, setTyped] = useState(empty);
  const client = useQueryClient();
  const invite = useMutation({
    mutationFn: () => unwrap(api.POST("/api/people", { body: typed })),
    onSuccess: async () => {
      setTyped(empty);
      await client.invalidateQueries({ queryKey: everybodyQuery.queryKey });
    },
  });
  const fields = invite.error instanceof ApiError ? invite.error.fields : {};
  return (
    <section aria-labelledby="invite" className="grid gap-3 border-t border-line pt-3">
      <h2 id="invite" className="text-xl font-semibold">
        Invite a developer
      </h2>
      {invite.isSuccess && <p role="status">A mail with a link is on its way.</p>}
      <form
        className="flex flex-wrap items-start gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          invite.mutate();
        }}
      >
        <Field label="Name" error={fields.name}>
          {(slots) => (
            <input
              {...slots}
              value={typed.name}
              required
              autoComplete="off"
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
              required
              autoComplete="off"
              onChange={(event) => {
                setTyped({ ...typed, email: event.target.value });
              }}
              className={inputClass}
            />
          )}
        </Field>
        <Button type="submit" className="mt-6" disabled={invite.isPending}>
          Invite
        </Button>
      </form>
      {Object.keys(fields).length === 0 && <Failure error={invite.error} />}
    </section>
  );
}
