import { queryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { toDataURL } from "qrcode";
import { useState } from "react";
import { api, unwrap, type Schemas } from "../api/client";
import { sessionQuery } from "../api/session";
import { Button } from "../ui/Button";
import { Failure } from "../ui/Failure";
import { Field, inputClass } from "../ui/Field";
import { Loading } from "../ui/Loading";
import { Notice } from "../ui/Notice";
import { formatMoment } from "../values/format";
import { PasswordField } from "./PasswordField";
import { problemsOf } from "./problems";
import { ProviderAccount } from "./Provider";

const accountQuery = queryOptions({
  queryKey: ["account"],
  queryFn: ({ signal }) => unwrap(api.GET("/api/account", { signal })),
  staleTime: 0,
});

/** The own account: password, second factor, and where one is signed in. */
export function AccountPage() {
  const account = useQuery(accountQuery);
  const person = useQuery(sessionQuery).data?.person;
  if (account.isPending || !person) return <Loading what="your account" />;
  if (!account.data) return <Failure error={account.error} onRetry={() => void account.refetch()} />;
  return (
    <div className="grid max-w-2xl gap-8">
      <title>Your account · Plain Porch</title>
      <div>
        <h1 className="text-2xl font-semibold">Your account</h1>
        <p className="text-faint">
          {person.name}, {person.email}
        </p>
      </div>
      {account.data.hasPassword ? (
        <ChangePassword />
      ) : (
        <p className="max-w-prose border-t border-line pt-3">
          You have no password here. To have one, sign out and choose “Forgot your password?”.
        </p>
      )}
      <ProviderAccount account={account.data} />
      <SecondFactor account={account.data} />
      <Sessions sessions={account.data.sessions} />
    </div>
  );
}

function ChangePassword() {
  const empty = { old: "", password: "" };
  const [typed, setTyped] = useState(empty);
  const client = useQueryClient();
  const change = useMutation({
    mutationFn: () => unwrap(api.PUT("/api/account/password", { body: typed })),
    onSuccess: async () => {
      setTyped(empty);
      await client.invalidateQueries({ queryKey: accountQuery.queryKey });
    },
  });
  const { fields, other } = problemsOf(change.error, ["old", "password"]);
  return (
    <section aria-labelledby="password" className="grid gap-3 border-t border-line pt-3">
      <h2 id="password" className="text-xl font-semibold">
        Password
      </h2>
      {change.isSuccess && <Notice title="The password is changed">Everywhere else you are signed out.</Notice>}
      <form
        className="grid max-w-sm gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate();
        }}
      >
        <PasswordField
          label="Password until now"
          value={typed.old}
          error={fields.old}
          onChange={(old) => {
            setTyped({ ...typed, old });
          }}
        />
        <PasswordField
          label="New password"
          value={typed.password}
          error={fields.password}
          isNew
          onChange={(password) => {
            setTyped({ ...typed, password });
          }}
        />
        <Failure error={other} />
        <div>
          <Button type="submit" disabled={change.isPending}>
            Change the password
          </Button>
        </div>
      </form>
    </section>
  );
}

function SecondFactor({ account }: { account: Schemas["AccountDto"] }) {
  const client = useQueryClient();
  const [doing, setDoing] = useState<"offer" | "codes" | "removal" | null>(null);
  const [offer, setOffer] = useState<(Schemas["FactorOffer"] & { picture: string }) | null>(null);
  const [codes, setCodes] = useState<string[] | null>(null);
  const done = async (shown: string[] | null) => {
    setDoing(null);
    setOffer(null);
    setCodes(shown);
    await client.invalidateQueries({ queryKey: accountQuery.queryKey });
  };
  return (
    <section aria-labelledby="factor" className="grid gap-3 border-t border-line pt-3">
      <h2 id="factor" className="text-xl font-semibold">
        Second factor
      </h2>
      <p className="max-w-prose">
        {account.hasFactor
          ? `Besides the password a code from your app is asked for. ${account.recoveryCodes} recovery codes are left, for when the app is not at hand.`
          : "An app on your telephone shows a code that changes every half minute. Whoever learns your password gets no further without it."}
      </p>
      {codes && <Codes codes={codes} />}
      {offer && <TakeFactor offer={offer} onDone={done} />}
      {doing === null && offer === null && (
        <div className="flex flex-wrap gap-2">
          {account.hasFactor ? (
            <>
              <Button
                onClick={() => {
                  setDoing("codes");
                }}
              >
                New recovery codes
              </Button>
              <Button
                onClick={() => {
                  setDoing("removal");
                }}
              >
                Remove the second factor
              </Button>
            </>
          ) : (
            <Button
              onClick={() => {
                setDoing("offer");
              }}
            >
              Set up a second factor
            </Button>
          )}
        </div>
      )}
      {doing !== null && (
        <Confirm
          label={doing === "offer" ? "Go on" : doing === "codes" ? "Make new codes" : "Remove it"}
          send={async (password) => {
            const body = { password };
            if (doing === "offer") {
              const made = await unwrap(api.POST("/api/account/factor", { body }));
              setOffer({ ...made, picture: await toDataURL(made.address, { margin: 1, width: 220 }) });
              setDoing(null);
            } else if (doing === "codes")
              await done((await unwrap(api.POST("/api/account/factor/codes", { body }))).codes);
            else {
              await unwrap(api.POST("/api/account/factor/removal", { body }));
              await done(null);
            }
          }}
          onCancel={() => {
            setDoing(null);
          }}
        />
      )}
    </section>
  );
}

interface ConfirmProps {
  label: string;
  send: (password: string) => Promise<void>;
  onCancel: () => void;
}

// Whoever finds the browser open changes nothing with it.
function Confirm({ label, send, onCancel }: ConfirmProps) {
  const [password, setPassword] = useState("");
  const confirm = useMutation({ mutationFn: () => send(password) });
  const { fields, other } = problemsOf(confirm.error, ["password"]);
  return (
    <form
      className="grid max-w-sm gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        confirm.mutate();
      }}
    >
      <PasswordField label="Your password" value={password} error={fields.password} autoFocus onChange={setPassword} />
      <Failure error={other} />
      <div className="flex gap-2">
        <Button type="submit" tone="next" disabled={confirm.isPending}>
          {label}
        </Button>
        <Button onClick={onCancel}>Cancel</Button>
      </div>
    </form>
  );
}

interface TakeFactorProps {
  offer: Schemas["FactorOffer"] & { picture: string };
  onDone: (codes: string[]) => Promise<void>;
}

function TakeFactor({ offer, onDone }: TakeFactorProps) {
  const [code, setCode] = useState("");
  const take = useMutation({
    mutationFn: () => unwrap(api.PUT("/api/account/factor", { body: { code } })),
    onSuccess: ({ codes }) => onDone(codes),
  });
  const { fields, other } = problemsOf(take.error, ["code"]);
  return (
    <form
      className="grid max-w-sm gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        take.mutate();
      }}
    >
      <p>Scan this with an app for such codes, or type the key into it. Then type the code that it shows.</p>
      <img src={offer.picture} alt="The key as a picture to be scanned" className="size-55 border border-line" />
      <p className="font-mono text-sm break-all">{offer.key}</p>
      <Field label="Code" error={fields.code}>
        {(slots) => (
          <input
            {...slots}
            value={code}
            inputMode="numeric"
            autoComplete="one-time-code"
            autoFocus
            required
            onChange={(event) => {
              setCode(event.target.value);
            }}
            className={inputClass}
          />
        )}
      </Field>
      <Failure error={other} />
      <div>
        <Button type="submit" tone="next" disabled={take.isPending}>
          Turn it on
        </Button>
      </div>
    </form>
  );
}

function Codes({ codes }: { codes: string[] }) {
  return (
    <Notice title="Your recovery codes">
      <p>
        Each of them serves once in place of a code of the app. They are shown this once: print them, or write them
        down.
      </p>
      <ul aria-label="Recovery codes" className="mt-2 grid grid-cols-2 gap-x-6 font-mono">
        {codes.map((code) => (
          <li key={code}>{code}</li>
        ))}
      </ul>
    </Notice>
  );
}

function Sessions({ sessions }: { sessions: Schemas["SessionInfo"][] }) {
  const client = useQueryClient();
  const end = useMutation({
    mutationFn: (session: number | null) =>
      session === null
        ? unwrap(api.DELETE("/api/account/sessions"))
        : unwrap(api.DELETE("/api/account/sessions/{session}", { params: { path: { session } } })),
    onSettled: () => client.invalidateQueries({ queryKey: accountQuery.queryKey }),
  });
  return (
    <section aria-labelledby="sessions" className="grid gap-3 border-t border-line pt-3">
      <h2 id="sessions" className="text-xl font-semibold">
        Where you are signed in
      </h2>
      <Failure error={end.error} />
      <ul>
        {sessions.map((session) => (
          <li key={session.id} className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line py-2">
            <div className="mr-auto min-w-0">
              <p className="wrap-anywhere">
                {programOf(session.agent)} <span className="text-faint">from {session.from}</span>
              </p>
              <p className="text-sm text-faint">
                {session.isThis ? "this browser · " : ""}since {formatMoment(session.madeAt)}, last seen{" "}
                {formatMoment(session.seenAt)}
              </p>
            </div>
            {!session.isThis && (
              <Button
                disabled={end.isPending}
                onClick={() => {
                  end.mutate(session.id);
                }}
              >
                Sign out there
              </Button>
            )}
          </li>
        ))}
      </ul>
      {sessions.length > 2 && (
        <div>
          <Button
            disabled={end.isPending}
            onClick={() => {
              end.mutate(null);
            }}
          >
            Sign out everywhere else
          </Button>
        </div>
      )}
    </section>
  );
}

/** What a browser calls itself, in short; what is no browser in full. */
function programOf(agent: string): string {
  const browser = /(Firefox|Edg|Chrome|Safari)\/(\d+)/.exec(agent);
  const system = /Windows|Android|iPhone|iPad|Mac OS X|Linux/.exec(agent)?.[0];
  const name = browser?.[1] === "Edg" ? "Edge" : browser?.[1];
  return name ? `${name} ${browser?.[2] ?? ""}${system ? ` on ${system}` : ""}` : agent || "a program";
}
