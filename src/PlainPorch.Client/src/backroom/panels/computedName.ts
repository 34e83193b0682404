const LENGTH = 60;

/** The name of a computed column in expressions, made of its label; none that is there already. */
export function computedName(label: string, others: string[]): string {
  const words = label
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, "_")
    .replace(/^_+|_+$/g, "")
    .slice(0, LENGTH);
  const name = /^\p{L}/u.test(words) ? words : `computed_${words}`.replace(/_$/, "");
  for (let number = 1; ; number++) {
    const tried = number === 1 ? name : `${name}_${number}`;
    if (!others.some((other) => other.toLowerCase() === tried)) return tried;
  }
}
