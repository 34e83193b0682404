import type { ReactNode } from "react";

interface NoticeProps {
  tone?: "plain" | "danger";
  title: ReactNode;
  children?: ReactNode;
  actions?: ReactNode;
}

/** Something that a person should know before going on, with the next step in it. */
export function Notice({ tone = "plain", title, children, actions }: NoticeProps) {
  const look = tone === "danger" ? "border-danger bg-danger-tint" : "border-edge bg-tint";
  return (
    <div role={tone === "danger" ? "alert" : "status"} className={`border-l-4 px-4 py-3 ${look}`}>
      <p className="font-semibold">{title}</p>
      {children && <div className="mt-1 max-w-prose text-[15px]">{children}</div>}
      {actions && <div className="mt-3 flex flex-wrap gap-2">{actions}</div>}
    </div>
  );
}
