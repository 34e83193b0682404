import { useQuery } from "@tanstack/react-query";
import { useId, useState, type InputHTMLAttributes } from "react";
import type { Column } from "../../api/client";
import { earlierQuery, type PanelAddress } from "../../api/queries";
import { useSettled } from "../../ui/useSettled";

interface EarlierInputProps extends InputHTMLAttributes<HTMLInputElement> {
  address: PanelAddress;
  column: Column;
  value: string;
}

const PAUSE_MS = 150;

/** A line of text that offers what other records have there. What is typed is never replaced by it. */
export function EarlierInput({ address, column, ...rest }: EarlierInputProps) {
  const listId = useId();
  const [isHere, setHere] = useState(false);
  const typed = useSettled(rest.value, PAUSE_MS);
  const earlier = useQuery({ ...earlierQuery(address, column.name, typed.trim()), enabled: isHere });
  return (
    <>
      <input
        {...rest}
        list={listId}
        autoComplete="off"
        maxLength={column.maxLength === null ? undefined : column.maxLength * 2}
        onFocus={() => {
          setHere(true);
        }}
      />
      <datalist id={listId}>
        {earlier.data?.map((value) => (
          <option key={value} value={value} />
        ))}
      </datalist>
    </>
  );
}
