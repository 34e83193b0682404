import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, unwrap } from "../api/client";
import { Button } from "../ui/Button";
import { Failure } from "../ui/Failure";
import { Field, inputClass } from "../ui/Field";
import { PasswordField } from "./PasswordField";
import { problemsOf } from "./problems";
import { SignInFrame } from "./SignInFrame";

const empty = { code: "", name: "", email: "", password: "" };

/** The first account, which whoever started the server makes. */
export function FirstAccountPage() {
  const client = useQueryClient();
  const [typed, setTyped] = useState(empty);
  const make = useMutation({
    mutationFn: () => unwrap(api.POST("/api/session/first", { body: typed })),
    onSuccess: () => client.invalidateQueries(),
  });
  const { fields, other } = problemsOf(make.error, Object.keys(empty));
  const text = (name: keyof typeof empty, label: string, hint: string, more: object) => (
    <Field label={label} hint={hint} error={fields[name]}>
      {(slots) => (
        <input
          {...slots}
          {...more}
          value={typed[name]}
          required
          onChange={(event) => {
            setTyped({ ...typed, [name]: event.target.value });
          }}
          className={inputClass}
        />
      )}
    </Field>
  );
  return (
    <SignInFrame title="Make the first account">
      <p>Nobody can sign in yet. With the first account you set porches up, and let others in.</p>
      <form
        className="grid gap-4"
        onSubmit={(event) => {
          event.preventDefault();
          make.mutate();
        }}
      >
        {text("code", "Code", "It stands on the console where the server was started.", {
          autoFocus: true,
          autoComplete: "off",
          spellCheck: false,
        })}
        {text("name", "Your name", "The logbook calls you so.", { autoComplete: "name" })}
        {text("email", "Mail address", "You sign in with it.", { type: "email", autoComplete: "username" })}
        <PasswordField
          value={typed.password}
          error={fields.password}
          isNew
          onChange={(password) => {
            setTyped({ ...typed, password });
          }}
        />
        <Failure error={other} />
        <div>
          <Button type="submit" tone="next" disabled={make.isPending}>
            {make.isPending ? "Making it …" : "Make the account"}
          </Button>
        </div>
      </form>
    </SignInFrame>
  );
}
