let person: number | null = null;

/** Says who is signed in: what this browser keeps belongs to that person. */
export function keepFor(id: number) {
  person = id;
}

/** The name under which this browser keeps something for whoever is signed in. */
export const own = (name: string) => (person === null ? name : `${name} of ${person}`);
