import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useLocation, useNavigate } from "react-router";
import { api, unwrap } from "../api/client";
import { ApiError } from "../api/problems";
import { Button } from "../ui/Button";
import { Failure } from "../ui/Failure";
import { Loading } from "../ui/Loading";
import { Notice } from "../ui/Notice";
import { PasswordField } from "./PasswordField";
import { problemsOf } from "./problems";
import { SignInFrame } from "./SignInFrame";

/** Somebody chooses a password by a link, and is signed in with it. */
export function SetPasswordPage() {
  const link = useLocation().hash.slice(1);
  const [password, setPassword] = useState("");
  const navigate = useNavigate();
  const client = useQueryClient();
  const owner = useQuery({
    queryKey: ["link", link],
    queryFn: ({ signal }) => unwrap(api.POST("/api/session/links/owner", { body: { link }, signal })),
  });
  const set = useMutation({
    mutationFn: async () => {
      await unwrap(api.POST("/api/session/password", { body: { link, password } }));
      // A second factor is asked for on the sign-in page.
      await unwrap(api.POST("/api/session", { body: { email: owner.data?.email ?? "", password } }));
    },
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ["session"] });
      await navigate("/", { replace: true });
    },
  });
  const isOver =
    (owner.error instanceof ApiError && owner.error.status === 404) ||
    (set.error instanceof ApiError && set.error.status === 410);
  const { fields, other } = problemsOf(set.error, ["password"]);
  return (
    <SignInFrame title="Choose a password">
      {owner.isPending && <Loading what="the link" />}
      {isOver && (
        <Notice
          title="This link no longer works"
          actions={
            <Link to="/" className="link">
              To the sign-in page
            </Link>
          }
        >
          It was used already, or is too old. “Forgot your password?” on the sign-in page sends a new one.
        </Notice>
      )}
      {owner.isError && !isOver && <Failure error={owner.error} onRetry={() => void owner.refetch()} />}
      {owner.data && !isOver && (
        <form
          className="grid gap-4"
          onSubmit={(event) => {
            event.preventDefault();
            set.mutate();
          }}
        >
          <p>
            For {owner.data.name}, {owner.data.email}.
          </p>
          <input type="email" autoComplete="username" value={owner.data.email} readOnly hidden />
          <PasswordField value={password} error={fields.password} isNew autoFocus onChange={setPassword} />
          <Failure error={other} />
          <div>
            <Button type="submit" tone="next" disabled={set.isPending}>
              {set.isPending ? "Saving …" : "Save and sign in"}
            </Button>
          </div>
        </form>
      )}
    </SignInFrame>
  );
}
