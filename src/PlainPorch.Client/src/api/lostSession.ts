import { held } from "./held";

/** Whether the server has answered that whoever sits here is signed in no more. */
export const lostSession = held(false);
