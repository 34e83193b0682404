import { DayPicker } from "react-day-picker";

interface CalendarProps {
  /** The chosen day or moment by the reader's clock, as an ISO text; "" for none. */
  value: string;
  /** Whether a time of day belongs to it. */
  hasTime: boolean;
  /** Called with a day, or a day with hour and minute; whether choosing is done. */
  onChoose: (value: string, isDone: boolean) => void;
}

const EARLIEST = new Date(1000, 0, 1);
const LATEST = new Date(9999, 11, 31);

/** Days to choose from, and a time where one belongs to them. Arrows, page keys and Enter work as in any grid of days. */
export function Calendar({ value, hasTime, onChoose }: CalendarProps) {
  const [day = "", time = "00:00"] = value.split("T");
  const selected = /^\d{4}-\d\d-\d\d$/.test(day) ? dateOf(day) : undefined;
  const choose = (chosen: string, at: string, isDone: boolean) => {
    onChoose(hasTime ? `${chosen}T${at.slice(0, 5)}` : chosen, isDone);
  };
  return (
    <div className="grid gap-2 p-3">
      <DayPicker
        mode="single"
        required
        autoFocus
        selected={selected}
        defaultMonth={selected}
        startMonth={EARLIEST}
        endMonth={LATEST}
        weekStartsOn={firstDayOfWeek()}
        showOutsideDays
        onSelect={(chosen) => {
          choose(isoOf(chosen), time, !hasTime);
        }}
        classNames={{
          month: "grid gap-2",
          month_caption: "px-1 font-serif text-base font-semibold leading-8",
          months: "relative",
          nav: "absolute right-0 top-0 flex gap-1",
          button_previous: navButton,
          button_next: navButton,
          chevron: "size-4 fill-current",
          month_grid: "border-collapse",
          weekday: "size-9 text-sm font-normal text-faint",
          day: "p-0 text-center tabular-nums",
          day_button:
            "size-9 rounded hover:bg-tint focus-visible:outline-2 focus-visible:-outline-offset-2 focus-visible:outline-accent",
          outside: "text-faint",
          today: "font-semibold underline underline-offset-4",
          selected: "[&>button]:bg-accent [&>button]:text-sheet",
        }}
      />
      {hasTime && (
        <TimeChoice
          value={time}
          onChoose={(at) => {
            choose(selected ? day : isoOf(new Date()), at, false);
          }}
        />
      )}
    </div>
  );
}

const navButton = "grid size-8 place-items-center rounded hover:bg-tint";

interface TimeChoiceProps {
  /** The time of day, HH:MM; seconds may follow. */
  value: string;
  onChoose: (time: string) => void;
}

/** A time of day, chosen by hour and minute. */
export function TimeChoice({ value, onChoose }: TimeChoiceProps) {
  const [hour = "00", minute = "00"] = value.split(":");
  const minutes = [...new Set([...range(60).filter((at) => Number(at) % 5 === 0), minute])].sort();
  const select = "min-h-9 rounded border border-edge bg-sheet px-2 tabular-nums";
  return (
    <div className="flex items-center gap-2 text-sm">
      <label className="flex items-center gap-1.5">
        Hour
        <select
          className={select}
          value={hour}
          onChange={({ target }) => {
            onChoose(`${target.value}:${minute}`);
          }}
        >
          {range(24).map((at) => (
            <option key={at}>{at}</option>
          ))}
        </select>
      </label>
      <label className="flex items-center gap-1.5">
        Minute
        <select
          className={select}
          value={minute}
          onChange={({ target }) => {
            onChoose(`${hour}:${target.value}`);
          }}
        >
          {minutes.map((at) => (
            <option key={at}>{at}</option>
          ))}
        </select>
      </label>
    </div>
  );
}

const range = (count: number) => Array.from({ length: count }, (_, at) => String(at).padStart(2, "0"));

function dateOf(iso: string): Date {
  const [year = 0, month = 1, day = 1] = iso.split("-").map(Number);
  return new Date(year, month - 1, day);
}

function isoOf(date: Date): string {
  return [
    String(date.getFullYear()).padStart(4, "0"),
    String(date.getMonth() + 1).padStart(2, "0"),
    String(date.getDate()).padStart(2, "0"),
  ].join("-");
}

/** The day that weeks begin with where the reader lives; Monday where the browser does not know. */
function firstDayOfWeek(): 0 | 1 | 6 {
  try {
    const locale = new Intl.Locale(navigator.language) as Intl.Locale & {
      getWeekInfo?: () => { firstDay: number };
      weekInfo?: { firstDay: number };
    };
    const first = (locale.getWeekInfo?.() ?? locale.weekInfo)?.firstDay;
    return first === 7 ? 0 : first === 6 ? 6 : 1;
  } catch {
    return 1;
  }
}
