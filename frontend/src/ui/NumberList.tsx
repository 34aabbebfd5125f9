import { useId, useState } from "react";

import { brief, readList } from "./number";

interface Props {
  label: string;
  values: readonly number[];
  placeholder?: string;
  /** How wide the label and the field are, as classes. */
  labelled?: string;
  wide: string;
  onCommit: (values: number[]) => void;
}

/** A list of millimetres that is typed. What is no number is said and stays in the field; the list stays as it was. */
export function NumberList({ label, values, placeholder, labelled = "text-soft", wide, onCommit }: Props) {
  const id = useId();
  const [text, setText] = useState<string | null>(null);
  const [bad, setBad] = useState("");
  const now = values.map((v) => brief(v)).join(", ");
  const leave = () => {
    setText(null);
    setBad("");
  };
  const finish = () => {
    if (text === null) return;
    const read = readList(text);
    if (typeof read === "string") setBad(read);
    else {
      leave();
      if (read.join() !== values.join()) onCommit(read);
    }
  };
  return (
    <div className="flex flex-wrap items-baseline gap-x-1.5">
      <label htmlFor={id} className={labelled}>
        {label}
      </label>
      <input
        id={id}
        value={text ?? now}
        placeholder={placeholder}
        aria-invalid={bad !== ""}
        onChange={(e) => {
          setText(e.target.value);
          setBad("");
        }}
        onBlur={() => {
          if (bad) leave();
          else finish();
        }}
        onKeyDown={(e) => {
          if (e.key === "Enter") finish();
          if (e.key === "Escape") leave();
          e.stopPropagation();
        }}
        className={`num ${wide} rounded-[3px] border bg-leaf px-1.5 py-0.5 ${bad ? "border-vermilion text-vermilion" : "border-rule"}`}
      />
      <span className="text-soft">mm</span>
      {bad && (
        <span role="alert" className="w-full text-vermilion">
          “{bad}” is no number; it stays {now || "empty"}
        </span>
      )}
    </div>
  );
}
