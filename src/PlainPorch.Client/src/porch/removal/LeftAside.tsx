import { useQuery, type UseQueryOptions } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import type { Schemas } from "../../api/client";
import type { operations } from "../../api/schema";
import { Failure } from "../../ui/Failure";
import { formatCount } from "../../values/format";

export type LeftAside = NonNullable<NonNullable<operations["removePanel"]["parameters"]["query"]>["setAside"]>;

type CountQuery = UseQueryOptions<Schemas["SetAsideCount"], Error, Schemas["SetAsideCount"], string[]>;

/** What happens to the records set aside when its source or panel is removed: has to be decided where there is any. */
export function useLeftAside(count: CountQuery) {
  const [isOpen, setOpen] = useState(false);
  const [chosen, setChosen] = useState<LeftAside | null>(null);
  const counted = useQuery({ ...count, enabled: isOpen, staleTime: 0 });
  const records = counted.data?.records ?? 0;
  return {
    counted,
    records,
    chosen,
    choose: setChosen,
    onOpen: () => {
      setOpen(true);
    },
    isBlocked: !counted.isSuccess || (records > 0 && chosen === null),
  };
}

interface LeftAsideChoiceProps {
  left: ReturnType<typeof useLeftAside>;
  /** When what is kept is there again. */
  keptUntil: string;
  /** The way to bring it back first. */
  children: ReactNode;
}

/** Says how much is set aside, and asks what becomes of it. */
export function LeftAsideChoice({ left, keptUntil, children }: LeftAsideChoiceProps) {
  if (left.counted.isError) return <Failure error={left.counted.error} onRetry={() => void left.counted.refetch()} />;
  if (left.records === 0) return null;
  const offers: [LeftAside, string][] = [
    ["keep", `Keep them: they can be brought back ${keptUntil}`],
    ["erase", "Erase them for good"],
  ];
  return (
    <fieldset className="border-l-4 border-danger bg-danger-tint px-3 py-2">
      <legend className="sr-only">What happens to the records set aside</legend>
      <p className="font-semibold">
        {left.records === 1 ? "1 record is set aside" : `${formatCount(left.records)} records are set aside`} from it.
      </p>
      <p className="text-sm">{children}</p>
      {offers.map(([value, label]) => (
        <label key={value} className="flex min-h-7 items-center gap-2">
          <input
            type="radio"
            className="size-4 shrink-0 accent-accent"
            checked={left.chosen === value}
            onChange={() => {
              left.choose(value);
            }}
          />
          {label}
        </label>
      ))}
    </fieldset>
  );
}
