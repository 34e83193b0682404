import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useLocation, useSearchParams } from "react-router";
import { api, unwrap, type Schemas } from "../api/client";
import { sessionQuery } from "../api/session";
import { Button, ButtonLink } from "../ui/Button";
import { Failure } from "../ui/Failure";
import { Notice } from "../ui/Notice";
import { PasswordField } from "./PasswordField";
import { problemsOf } from "./problems";

/** Why somebody was not signed in by the provider. */
export function ProviderRefusal({ name }: { name: string }) {
  const [search] = useSearchParams();
  const why = search.get("refused");
  if (why === null) return null;
  const words: Record<string, string> = {
    Unknown: `Nobody has invited you here by the mail address that ${name} knows of you. Ask whoever looks after Plain Porch where you work.`,
    ConnectFirst: `Your account here has a password. Sign in with it once, and connect the account with ${name} on the page “Your account”.`,
    Taken: `Somebody else’s account here is connected with who you are at ${name}.`,
  };
  return (
    <Notice tone="danger" title={`Not signed in with ${name}`}>
      {words[why] ?? `There was no answer from ${name}, or you gave up there. Nothing has changed; try again.`}
    </Notice>
  );
}

/** The way to the provider's page, and from there back to this one. */
export function ProviderLink({ name }: { name: string }) {
  const { pathname, search } = useLocation();
  const parts = new URLSearchParams(search);
  parts.delete("refused");
  const rest = parts.toString();
  const to = encodeURIComponent(`${pathname}${rest === "" ? "" : `?${rest}`}`);
  return (
    <p>
      {/* No page of ours: the server leads on from there. */}
      <ButtonLink to={`/api/session/provider?to=${to}`} reloadDocument>
        Sign in with {name}
      </ButtonLink>
    </p>
  );
}

/** The same in another page, as this one has something typed in it; coming back goes on. */
export function ProviderAgain({ name, person, onDone }: { name: string; person: number; onDone: () => unknown }) {
  useEffect(() => {
    const look = async () => {
      const { data } = await api.GET("/api/session");
      if (data?.person?.id === person) onDone();
    };
    const back = () => void look();
    window.addEventListener("focus", back);
    return () => {
      window.removeEventListener("focus", back);
    };
  }, [person, onDone]);
  return (
    <p className="mt-4">
      <a href="/api/session/provider" target="_blank" rel="noreferrer" className="link">
        Sign in with {name} in another tab
      </a>
      , and come back to this one.
    </p>
  );
}

/** Whether the own account is connected with the provider. */
export function ProviderAccount({ account }: { account: Schemas["AccountDto"] }) {
  const client = useQueryClient();
  const name = useQuery(sessionQuery).data?.provider ?? null;
  const [isAsking, setAsking] = useState(false);
  const [password, setPassword] = useState("");
  const connect = useMutation({
    mutationFn: () => unwrap(api.POST("/api/account/provider", { body: { password } })),
    onSuccess: ({ address }) => {
      window.location.assign(address);
    },
  });
  const part = useMutation({
    mutationFn: () => unwrap(api.DELETE("/api/account/provider")),
    onSettled: () => client.invalidateQueries({ queryKey: ["account"] }),
  });
  const { fields, other } = problemsOf(connect.error, ["password"]);
  if (name === null) return null;
  return (
    <section aria-labelledby="provider" className="grid gap-3 border-t border-line pt-3">
      <h2 id="provider" className="text-xl font-semibold">
        Sign-in with {name}
      </h2>
      <ProviderRefusal name={name} />
      <p className="max-w-prose">
        {account.isConnected
          ? `Your account is connected: who is signed in at ${name} as you is let in here.`
          : `Once your account is connected, you can sign in with ${name}, and need no password here.`}
      </p>
      <Failure error={part.error} />
      {isAsking ? (
        <form
          className="grid max-w-sm gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            connect.mutate();
          }}
        >
          <PasswordField
            label="Your password"
            value={password}
            error={fields.password}
            autoFocus
            onChange={setPassword}
          />
          <Failure error={other} />
          <div className="flex gap-2">
            <Button type="submit" tone="next" disabled={connect.isPending || connect.isSuccess}>
              Go on to {name}
            </Button>
            <Button
              onClick={() => {
                setAsking(false);
              }}
            >
              Cancel
            </Button>
          </div>
        </form>
      ) : (
        <div>
          {account.isConnected ? (
            <Button
              disabled={part.isPending}
              onClick={() => {
                part.mutate();
              }}
            >
              Disconnect
            </Button>
          ) : (
            <Button
              onClick={() => {
                setAsking(true);
              }}
            >
              Connect
            </Button>
          )}
        </div>
      )}
    </section>
  );
}
