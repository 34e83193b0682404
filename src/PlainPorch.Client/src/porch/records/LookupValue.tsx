import { Link } from "react-router";
import type { LookupTitle } from "../../api/client";
import { recordPath } from "../../paths";

interface LookupValueProps {
  porch: string;
  /** The record that the value refers to; undefined where there is none. */
  title: LookupTitle | undefined;
  value: string | null | undefined;
  tabIndex?: number;
}

// What old programs write where others leave empty.
const none = /^(0+|-1|\s*)$/;

/** A value as the title of the record that it refers to, which leads there. */
export function LookupValue({ porch, title, value, tabIndex }: LookupValueProps) {
  if (value === null || value === undefined) return null;
  if (!title)
    return none.test(value) ? (
      <span className="text-faint" title={`“${value}” stands for none`}>
        –
      </span>
    ) : (
      <span title="No record has this value.">
        {value} <span className="text-faint">(not found)</span>
      </span>
    );
  const shown = title.isSetAside ? (
    <s className="text-faint" title="This record is set aside.">
      {title.title}
    </s>
  ) : (
    title.title
  );
  if (!title.panel || title.key === null) return shown;
  return (
    <Link
      to={recordPath(porch, title.panel, title.key)}
      tabIndex={tabIndex}
      className="link"
      onClick={(event) => {
        event.stopPropagation();
      }}
    >
      {shown}
    </Link>
  );
}
