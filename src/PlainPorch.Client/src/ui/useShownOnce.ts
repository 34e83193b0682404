import { useState } from "react";

/** Whether something was ready to be shown at any time: a form that was shown is not taken away by what is fetched later. */
export function useShownOnce(isReady: boolean): boolean {
  const [wasReady, setReady] = useState(isReady);
  if (isReady && !wasReady) setReady(true);
  return isReady || wasReady;
}
