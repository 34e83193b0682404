import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, unwrap } from "../api/client";
import { lostSession } from "../api/lostSession";
import { sessionQuery, type SignedIn } from "../api/session";
import { Button } from "../ui/Button";
import { DialogFrame } from "../ui/DialogFrame";
import { Failure } from "../ui/Failure";
import { Field, inputClass } from "../ui/Field";
import { Notice } from "../ui/Notice";
import { PasswordField } from "./PasswordField";
import { problemsOf } from "./problems";
import { ProviderAgain, ProviderLink, ProviderRefusal } from "./Provider";
import { SignInFrame } from "./SignInFrame";

/** Somebody signs in. */
export function SignInPage() {
  const client = useQueryClient();
  const [hasForgotten, setForgotten] = useState(false);
  const [email, setEmail] = useState("");
  const provider = useQuery(sessionQuery).data?.provider ?? null;
  if (hasForgotten)
    return (
      <Forgotten
        email={email}
        onBack={() => {
          setForgotten(false);
        }}
      />
    );
  return (
    <SignInFrame title="Sign in">
      {provider !== null && <ProviderRefusal name={provider} />}
      <SignInForm email={email} onEmail={setEmail} onDone={() => client.invalidateQueries()} />
      <p>
        <button
          type="button"
          className="link"
          onClick={() => {
            setForgotten(true);
          }}
        >
          Forgot your password?
        </button>
      </p>
      {provider !== null && <ProviderLink name={provider} />}
    </SignInFrame>
  );
}

interface SignInFormProps {
  email: string;
  /** Changes the address; null where it is known. */
  onEmail: ((email: string) => void) | null;
  onDone: () => unknown;
}

function SignInForm({ email, onEmail, onDone }: SignInFormProps) {
  const [password, setPassword] = useState("");
  const [code, setCode] = useState("");
  const [needsCode, setNeedsCode] = useState(false);
  const signIn = useMutation({
    mutationFn: () =>
      unwrap(api.POST("/api/session", { body: { email, password, code: needsCode ? code : null } })) as Promise<
        { needsCode: boolean } | undefined
      >,
    onSuccess: (answer) => {
      if (answer?.needsCode) setNeedsCode(true);
      else return onDone();
    },
  });
  const { fields, other } = problemsOf(signIn.error, ["email", "password", "code"]);
  return (
    <form
      className="grid gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        signIn.mutate();
      }}
    >
      {onEmail && (
        <Field label="Mail address" error={fields.email}>
          {(slots) => (
            <input
              {...slots}
              type="email"
              value={email}
              autoComplete="username"
              autoFocus
              required
              onChange={(event) => {
                onEmail(event.target.value);
              }}
              className={inputClass}
            />
          )}
        </Field>
      )}
      <PasswordField
        value={password}
        error={fields.password}
        autoFocus={onEmail === null}
        onChange={(typed) => {
          setPassword(typed);
          setNeedsCode(false);
        }}
      />
      {needsCode && (
        <Field
          label="Code"
          error={fields.code}
          hint="The six digits that your app shows now, or one of your recovery codes."
        >
          {(slots) => (
            <input
              {...slots}
              value={code}
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
      )}
      <Failure error={other} />
      <div>
        <Button type="submit" tone="next" disabled={signIn.isPending}>
          {signIn.isPending ? "Signing in …" : "Sign in"}
        </Button>
      </div>
    </form>
  );
}

function Forgotten({ email, onBack }: { email: string; onBack: () => void }) {
  const [typed, setTyped] = useState(email);
  const ask = useMutation({
    mutationFn: () => unwrap(api.POST("/api/session/links", { body: { email: typed } })),
  });
  return (
    <SignInFrame title="Choose a new password">
      {ask.isSuccess ? (
        <Notice title="Look into your mail">
          If somebody with this address can sign in here, a link is on its way to it. It works for one hour.
        </Notice>
      ) : (
        <form
          className="grid gap-4"
          onSubmit={(event) => {
            event.preventDefault();
            ask.mutate();
          }}
        >
          <Field label="Mail address" hint="A link by which you choose a new password is sent to it.">
            {(slots) => (
              <input
                {...slots}
                type="email"
                value={typed}
                autoComplete="username"
                autoFocus
                required
                onChange={(event) => {
                  setTyped(event.target.value);
                }}
                className={inputClass}
              />
            )}
          </Field>
          <Failure error={ask.error} />
          <div>
            <Button type="submit" tone="next" disabled={ask.isPending}>
              Send the link
            </Button>
          </div>
        </form>
      )}
      <p>
        <button type="button" className="link" onClick={onBack}>
          ← Sign in
        </button>
      </p>
    </SignInFrame>
  );
}

/** Somebody was signed out while at work, and signs in again over it. */
export function SignInAgain({ person }: { person: SignedIn }) {
  const client = useQueryClient();
  const provider = useQuery(sessionQuery).data?.provider ?? null;
  const goOn = async () => {
    lostSession.set(false);
    await client.invalidateQueries();
  };
  return (
    <DialogFrame title="You are signed out" onOpenChange={() => undefined}>
      <p className="mt-2 mb-4">
        {person.name}, nothing that you typed is lost. Sign in again, and go on where you were.
      </p>
      <SignInForm email={person.email} onEmail={null} onDone={goOn} />
      {provider !== null && <ProviderAgain name={provider} person={person.id} onDone={goOn} />}
      <p className="mt-4">
        <button
          type="button"
          className="link"
          onClick={() => {
            client.setQueryData(sessionQuery.queryKey, { isFirst: false, person: null, provider });
            lostSession.set(false);
          }}
        >
          Sign in as somebody else
        </button>
      </p>
    </DialogFrame>
  );
}
