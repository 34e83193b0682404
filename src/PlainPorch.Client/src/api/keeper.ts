const name = "plain-porch-keeper";

/** Whose lists are kept "only on this computer": until there is sign-in, this browser's. */
export function keeper(): string {
  const known = localStorage.getItem(name);
  if (known !== null) return known;
  const made = crypto.randomUUID();
  localStorage.setItem(name, made);
  return made;
}
