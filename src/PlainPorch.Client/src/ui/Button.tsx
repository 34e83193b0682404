import type { ComponentProps } from "react";
import { Link } from "react-router";

type Tone = "next" | "quiet" | "on" | "danger";

const base =
  "inline-flex min-h-8 items-center justify-center gap-1.5 rounded px-3 py-1 text-[15px] font-medium whitespace-nowrap transition-colors disabled:cursor-not-allowed disabled:opacity-55";

const tones: Record<Tone, string> = {
  next: "bg-accent text-sheet hover:bg-accent-deep",
  on: "border border-accent bg-accent-tint text-ink hover:bg-tint",
  quiet: "border border-edge bg-sheet text-ink hover:bg-tint",
  danger: "bg-danger text-sheet hover:bg-danger-deep",
};

interface ButtonProps extends ComponentProps<"button"> {
  /** "next" for the thing to do next, of which a screen has one; "on" for a switch that is; "danger" for what cannot be undone. */
  tone?: Tone;
}

export function Button({ tone = "quiet", className = "", type = "button", ...props }: ButtonProps) {
  return <button type={type} className={`${base} ${tones[tone]} ${className}`} {...props} />;
}

interface ButtonLinkProps extends ComponentProps<typeof Link> {
  tone?: Tone;
}

export function ButtonLink({ tone = "quiet", className = "", ...props }: ButtonLinkProps) {
  return <Link className={`${base} ${tones[tone]} ${className}`} {...props} />;
}
