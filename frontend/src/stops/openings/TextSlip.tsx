import type { FaceText, Lettered } from "../../api/schema";
import type { SheetProps } from "../../desk/sheetProps";
import { type Avoid, type Box, Slip } from "../../sheet/Slip";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { brief } from "../../ui/number";
import { NumberField } from "../../ui/NumberField";
import { GoesAlong, OnFace, WordField } from "./FaceFields";
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
      <WordField
        label="Letters"
        value={t.text}
        onWord={(text) => {
          put({ text }, `write ${text}`);
        }}
      />
      <PlaceFields act={act} id={shown.id} name="text" at={shown.at_mm} />
      <NumberField
        tried
        label="height"
        value={t.high_mm}
        min={1}
        onCommit={(high_mm) => {
          put({ high_mm }, `letters ${high_mm} mm high`);
        }}
      />
      <NumberField
        tried
        label="depth"
        value={shown.deep_mm}
        min={0.1}
        onCommit={(deep_mm) => {
          put({ deep_mm }, `grooves ${deep_mm} mm deep`);
        }}
      />
      <Choice
        tried
        label="Turned"
        value={String(t.turn_deg) as (typeof TURNS)[number]["value"]}
        options={TURNS}
        onPick={(turn) => {
          put({ turn_deg: Number(turn) as FaceText["turn_deg"] }, `turn the text by ${turn}°`);
        }}
      />
      <GoesAlong
        name="The text"
        on={t.on}
        things={state.view.things}
        onPick={(on) =>
          void act.edit(
            [{ do: "anchor-text", id: t.id, on }],
            on ? "the text goes along" : "the text stays on its face",
          )
        }
      />
      <OnFace
        name="the text"
        face={t.face}
        onPick={(face) => {
          put({ face }, `onto the ${face}`);
        }}
      />
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
