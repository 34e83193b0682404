import type { ReactNode } from "react";

/** The frame of the pages that are there before anybody is signed in. */
export function SignInFrame({ title, children }: { title: string; children: ReactNode }) {
  return (
    <main className="mx-auto grid min-h-dvh w-full max-w-md content-start gap-5 px-5 py-[max(2rem,12dvh)]">
      <title>{`${title} · Plain Porch`}</title>
      <p className="flex items-center gap-2 font-serif text-lg font-semibold">
        <img src="/porch.svg" alt="" className="size-6" />
        Plain Porch
      </p>
      <h1 className="text-2xl font-semibold">{title}</h1>
      {children}
    </main>
  );
}
