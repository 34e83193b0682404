import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useSyncExternalStore, type ReactNode } from "react";
import { useLocation } from "react-router";
import { lostSession } from "../api/lostSession";
import { sessionQuery } from "../api/session";
import { keepFor } from "../api/whose";
import { Failure } from "../ui/Failure";
import { Loading } from "../ui/Loading";

const pages = () => import("./signInPages");
const FirstAccountPage = lazy(async () => ({ default: (await pages()).FirstAccountPage }));
const SetPasswordPage = lazy(async () => ({ default: (await pages()).SetPasswordPage }));
const SignInPage = lazy(async () => ({ default: (await pages()).SignInPage }));
const SignInAgain = lazy(async () => ({ default: (await pages()).SignInAgain }));

/** Shows what is behind it to whoever is signed in, and the way in to anybody else. */
export function Gate({ children }: { children: ReactNode }) {
  const session = useQuery(sessionQuery);
  const isLost = useSyncExternalStore(lostSession.subscribe, lostSession.now);
  const { pathname } = useLocation();
  if (pathname === "/password") return <Behind page={<SetPasswordPage />} />;
  if (session.isPending) return <Loading what="Plain Porch" />;
  if (!session.data) return <Failure error={session.error} onRetry={() => void session.refetch()} />;
  const { isFirst, person } = session.data;
  if (isFirst) return <Behind page={<FirstAccountPage />} />;
  if (person === null) return <Behind page={<SignInPage />} />;
  keepFor(person.id);
  return (
    <>
      {children}
      {/* The page stays as it is underneath, with all that was typed. */}
      {isLost && (
        <Suspense>
          <SignInAgain person={person} />
        </Suspense>
      )}
    </>
  );
}

function Behind({ page }: { page: ReactNode }) {
  return <Suspense fallback={<Loading what="the page" />}>{page}</Suspense>;
}
