import type { Schemas } from "../../api/client";

type Entry = Pick<Schemas["AccessDto"], "act" | "by" | "about" | "porch">;

/** What happened, as a sentence. */
export function sayAccess({ act, by, about, porch }: Entry): string {
  const own = by === about || by === "";
  const who = about === "" ? "Somebody" : about;
  const here = porch === null ? "" : ` in ${porch}`;
  const into = porch === null ? "" : ` into ${porch}`;
  const words: Record<Entry["act"], string> = {
    signedIn: `${who} signed in`,
    refused: `${who} was not let in`,
    signedOut: own ? `${who} signed out` : `${by} signed ${who} out`,
    passwordSet: `${who} set a new password`,
    linkAsked: `A link to set a new password was sent to ${who}`,
    factorOn: `${who} turned a second factor on`,
    factorOff: own ? `${who} took the second factor away` : `${by} took ${who}’s second factor away`,
    connected: `${who}’s account was connected with a provider of sign-ins`,
    disconnected: `${who} parted the account from the provider of sign-ins`,
    invited: `${by} invited ${who}${into}`,
    changed: `${by} changed what ${who} may do${here}`,
    takenOut: `${by} took ${who} out${porch === null ? "" : ` of ${porch}`}`,
    tokenMade: `${by} made the token ${about}${here}`,
    tokenRemoved: `${by} ended the token ${about}${here}`,
    rolesChanged: `${by} changed the roles${here}`,
  };
  return words[act];
}
