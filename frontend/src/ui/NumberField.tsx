import { useId, useState } from "react";

import { brief, readMm } from "./number";
import { useTyped } from "./typed";
import { useAtOnce } from "./useAtOnce";

interface Props {
  label: string;
  value: number;
  unit?: string;
  step?: number;
  min?: number;
  hideLabel?: boolean;
  /** In a row of fields the label is as wide as its word; in a column all are alike. */
  inRow?: boolean;
  narrow?: boolean;
  disabled?: boolean;
  /** Giving it is an edit of the design and nothing else: what is typed is looked at before it is given. */
  tried?: boolean;
  onCommit: (v: number) => void;
}

/** A number that takes mm, inches or an expression, is nudged with the arrow keys, and says what it was. */
export function NumberField({
  label,
  value,
  unit = "mm",
  step = 1,
  min,
  hideLabel,
  inRow,
  narrow,
  disabled,
  tried = false,
  onCommit,
}: Props) {
  const id = useId();
  const [text, setText] = useState<string | null>(null);
  const [was, setWas] = useState<number | null>(null);
  const [bad, setBad] = useState(false);
  const { shown, sent, send } = useAtOnce(value);
  const typing = useTyped(tried);

  const least = (v: number) => (min === undefined ? v : Math.max(v, min));
  const changes = (v: number) => Math.abs(v - shown) > 1e-9;
  const commit = (asked: number) => {
    const v = least(asked);
    if (!changes(v)) {
      typing.drop();
      return;
    }
    typing.given();
    setWas(value);
    send(v);
    onCommit(v);
  };
  const leave = () => {
    setText(null);
    setBad(false);
    typing.drop();
  };
  const finish = () => {
    if (text === null) return;
    const v = readMm(text);
    if (v === null) {
      setBad(true);
      return;
    }
    setText(null);
    setBad(false);
    commit(v);
  };

  const said = !bad && !sent && was !== null && Math.abs(was - value) > 1e-9;
  return (
    <div
      className={`relative flex min-w-0 items-baseline gap-x-1.5 ${said ? "flex-wrap in-data-slip:flex-nowrap" : ""}`}
    >
      <label
        htmlFor={id}
        className={hideLabel ? "sr-only" : `${inRow ? "" : "w-[5.6rem]"} shrink-0 text-soft`}
      >
        {label}
      </label>
      <input
        id={id}
        value={text ?? brief(shown)}
        aria-busy={sent}
        disabled={disabled}
        inputMode="decimal"
        aria-invalid={bad}
        title={was === null ? undefined : `It was ${brief(was)} ${unit}`}
        className={`num ${narrow ? "w-[3.4rem]" : "w-[4.6rem]"} rounded-[3px] border bg-leaf px-1.5 py-0.5 text-right disabled:opacity-60 ${bad ? "border-vermilion text-vermilion" : sent ? "border-dashed border-plum" : "border-rule"}`}
        onFocus={(e) => {
          e.target.select();
        }}
        onChange={(e) => {
          setText(e.target.value);
          setBad(false);
          const v = readMm(e.target.value);
          const to = v === null ? shown : least(v);
          typing.type(
            changes(to)
              ? () => {
                  onCommit(to);
                }
              : null,
          );
        }}
        onBlur={() => {
          if (bad) leave();
          else finish();
        }}
        onKeyDown={(e) => {
          if (e.key === "Enter") finish();
          if (e.key === "Escape") leave();
          if (e.key === "ArrowUp" || e.key === "ArrowDown") {
            e.preventDefault();
            const by = (e.shiftKey ? step / 10 : step) * (e.key === "ArrowUp" ? 1 : -1);
            setText(null);
            commit(Math.round((shown + by) * 1e4) / 1e4);
          }
          e.stopPropagation();
        }}
      />
      {unit && <span className="text-soft">{unit}</span>}
      {bad && (
        <span role="alert" className="text-vermilion">
          No number; it stays {brief(value)}
        </span>
      )}
      {said && ( // a slip is too narrow for it, and must not grow: a hand may be on its way to what is below
        <span className="num text-[11px] whitespace-nowrap text-soft in-data-slip:absolute in-data-slip:top-[1.25rem] in-data-slip:left-0 in-data-slip:text-[10.5px] in-data-slip:leading-none">
          was {brief(was)}
        </span>
      )}
    </div>
  );
}
