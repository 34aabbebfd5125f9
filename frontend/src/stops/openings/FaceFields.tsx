import type { StateOut } from "../../api/schema";
import { FACES } from "./net";

/** A word, or a few, that count once the field is left. */
export function WordField({
  label,
  value,
  onWord,
}: {
  label: string;
  value: string;
  onWord: (word: string) => void;
}) {
  return (
    <label className="flex items-baseline gap-2">
      <span className="w-[5.6rem] text-soft">{label}</span>
      <input
        key={value}
        defaultValue={value}
        maxLength={60}
        className="min-w-0 flex-1 rounded-[3px] border border-rule bg-leaf px-1.5 py-0.5"
        onBlur={(e) => {
          const word = e.target.value.trim();
          if (word && word !== value) onWord(word);
        }}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === "Enter") e.currentTarget.blur();
        }}
      />
    </label>
  );
}

/** What something on a face goes along with: a component, or its face alone. */
export function GoesAlong({
  name,
  on,
  things,
  onPick,
}: {
  name: string;
  on: string | null;
  things: StateOut["view"]["things"];
  onPick: (on: string | null) => void;
}) {
  return (
    <label className="flex items-baseline gap-2">
      <span className="w-[5.6rem] text-soft">Goes along with</span>
      <select
        aria-label={`${name} goes along with`}
        value={on ?? ""}
        className="min-w-0 flex-1 rounded-[3px] border border-rule bg-leaf px-1 py-0.5"
        onChange={(e) => {
          onPick(e.target.value || null);
        }}
      >
        <option value="">its face</option>
        {things.map((t) => (
          <option key={t.id} value={t.id}>
            {t.name}
          </option>
        ))}
      </select>
    </label>
  );
}

/** Which face something is on. */
export function OnFace({
  name,
  face,
  onPick,
}: {
  name: string;
  face: (typeof FACES)[number];
  onPick: (face: (typeof FACES)[number]) => void;
}) {
  return (
    <label className="flex items-baseline gap-2">
      <span className="w-[5.6rem] text-soft">On the</span>
      <select
        aria-label={`Face of ${name}`}
        value={face}
        className="rounded-[3px] border border-rule bg-leaf px-1 py-0.5"
        onChange={(e) => {
          onPick(e.target.value as (typeof FACES)[number]);
        }}
      >
        {FACES.map((f) => (
          <option key={f}>{f}</option>
        ))}
      </select>
    </label>
  );
}
