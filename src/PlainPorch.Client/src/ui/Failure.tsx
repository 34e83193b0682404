import { NoConnectionError } from "../api/problems";
import { Button } from "./Button";
import { Notice } from "./Notice";

interface FailureProps {
  /** What went wrong; nothing is shown where nothing did. */
  error: Error | null;
  onRetry?: () => void;
}

/** What went wrong while fetching, with the way to try again. */
export function Failure({ error, onRetry }: FailureProps) {
  if (!error) return null;
  const title = error instanceof NoConnectionError ? "No connection" : "Something went wrong";
  return (
    <Notice tone="danger" title={title} actions={onRetry && <Button onClick={onRetry}>Try again</Button>}>
      {error.message}
    </Notice>
  );
}
