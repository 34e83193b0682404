/** Something that components show as it is now (`useSyncExternalStore`), and that is changed from outside of them. */
export function held<T>(first: T) {
  let value = first;
  const listeners = new Set<() => void>();
  return {
    subscribe: (listener: () => void) => {
      listeners.add(listener);
      return () => void listeners.delete(listener);
    },
    now: () => value,
    set: (next: T) => {
      value = next;
      for (const listener of listeners) listener();
    },
    /** Whether anything shows it. */
    isShown: () => listeners.size > 0,
  };
}
