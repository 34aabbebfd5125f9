import type { FaceText, Lettered } from "../../api/schema";
import type { SheetProps } from "../../desk/sheetProps";
import { type Avoid, type Box, Slip } from "../../sheet/Slip";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { brief } from "../../ui/number";
import { NumberField } from "../../ui/NumberField";
import { FACES } from "./net";
import { PlaceFields } from "./PlaceFields";

const TURNS = (["0", "90", "180", "270"] as const).map((value) => ({ value, label: `${value}°` }));

/** The letters and numbers of a text on a face. */
export function TextSlip({
  state,
  act,
  text: t,
  shown,
  ...slip
}: SheetProps & {
  text: FaceText;
  shown: Lettered;
  beside: Box;
  avoid: Avoid[];
  within: { w: number; h: number };
  onClose: () => void;
}) {
  const put = (change: Partial<FaceText>, said: string) =>
    void act.edit(
      (now) =>
        now.design.texts
          .filter((x) => x.id === t.id)
          .map((x) => ({ do: "put-text", text: { ...x, ...change } })),
      said,
    );
  return (
    <Slip title="Text" note={`${t.face} face`} {...slip}>
      <label className="flex items-baseline gap-2">
        <span className="w-[5.6rem] text-soft">Letters</span>
        <input
          key={t.text}
          defaultValue={t.text}
          maxLength={60}
          className="min-w-0 flex-1 rounded-[3px] border border-rule bg-leaf px-1.5 py-0.5"
          onBlur={(e) => {
            const text = e.target.value.trim();
            if (text && text !== t.text) put({ text }, `write ${text}`);
          }}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === "Enter") e.currentTarget.blur();
          }}
        />
      </label>
      <PlaceFields act={act} id={shown.id} name="text" at={shown.at_mm} />
      <NumberField
        label="height"
        value={t.high_mm}
        min={1}
        onCommit={(high_mm) => {
          put({ high_mm }, `letters ${high_mm} mm high`);
        }}
      />
      <NumberField
        label="depth"
        value={shown.deep_mm}
        min={0.1}
        onCommit={(deep_mm) => {
          put({ deep_mm }, `grooves ${deep_mm} mm deep`);
        }}
      />
      <Choice
        label="Turned"
        value={String(t.turn_deg) as (typeof TURNS)[number]["value"]}
        options={TURNS}
        onPick={(turn) => {
          put({ turn_deg: Number(turn) as FaceText["turn_deg"] }, `turn the text by ${turn}°`);
        }}
      />
      <label className="flex items-baseline gap-2">
        <span className="w-[5.6rem] text-soft">Goes along with</span>
        <select
          aria-label="The text goes along with"
          value={t.on ?? ""}
          className="min-w-0 flex-1 rounded-[3px] border border-rule bg-leaf px-1 py-0.5"
          onChange={(e) => {
            void act.edit(
              [{ do: "anchor-text", id: t.id, on: e.target.value || null }],
              e.target.value ? "the text goes along" : "the text stays on its face",
            );
          }}
        >
          <option value="">its face</option>
          {state.view.things.map((x) => (
            <option key={x.id} value={x.id}>
              {x.name}
            </option>
          ))}
        </select>
      </label>
      <label className="flex items-baseline gap-2">
        <span className="w-[5.6rem] text-soft">On the</span>
        <select
          aria-label="Face of the text"
          value={t.face}
          className="rounded-[3px] border border-rule bg-leaf px-1 py-0.5"
          onChange={(e) => {
            const face = e.target.value as FaceText["face"];
            put({ face }, `onto the ${face}`);
          }}
        >
          {FACES.map((f) => (
            <option key={f}>{f}</option>
          ))}
        </select>
      </label>
      <p className="border-t border-rule pt-1.5">
        {shown.part ? `Sunk into the ${shown.part}` : "Not cut"}:{" "}
        <span className="num">
          {brief(shown.size_mm[0], 1)} × {brief(shown.size_mm[1], 1)}
        </span>{" "}
        mm over all, strokes <span className="num">{brief(shown.stroke_mm, 2)}</span> mm wide.
      </p>
      <Button
        kind="quiet"
        className="text-vermilion"
        onClick={() => void act.edit([{ do: "remove-text", id: t.id }], "leave the text out")}
      >
        Leave this text out
      </Button>
    </Slip>
  );
}
