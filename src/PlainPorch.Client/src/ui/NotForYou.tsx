import { Link } from "react-router";
import { Notice } from "./Notice";

/** Says to whoever keeps records that the back room is not theirs. */
export function NotForYou() {
  return (
    <Notice
      title="The back room is for whoever sets porches up"
      actions={
        <Link to="/" className="link">
          Go to the porches
        </Link>
      }
    />
  );
}
