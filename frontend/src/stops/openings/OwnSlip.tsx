import type { Opening, OwnOpening } from "../../api/schema";
import { MATERIALS } from "../../desk/materials";
import type { SheetProps } from "../../desk/sheetProps";
import { type Avoid, type Box, Slip } from "../../sheet/Slip";
import { Button } from "../../ui/Button";
import { Choice } from "../../ui/Choice";
import { brief } from "../../ui/number";
import { NumberField } from "../../ui/NumberField";
import { Why } from "../../ui/Why";
import { Tick } from "../../ui/Tick";
import { withOne } from "./mark";
import { GoesAlong, OnFace, WordField } from "./FaceFields";
import { PlaceFields } from "./PlaceFields";

const PANES = [
  { value: "none", label: "nothing" },
  ...MATERIALS,
  { value: "printed", label: "a printed plate" },
] as const;

const HELD = [
  { value: "glued", label: "glue" },
  { value: "screwed", label: "screws" },
] as const;

const SHAPES = (["rectangle", "slot", "round"] as const).map((value) => ({ value, label: value }));

/** The numbers of an opening of one's own. */
export function OwnSlip({
  state,
  act,
  own: o,
  shown,
  ...slip
}: SheetProps & {
  own: OwnOpening;
  shown: Opening;
  beside: Box;
  avoid: Avoid[];
  within: { w: number; h: number };
  onClose: () => void;
}) {
  const put = (change: (now: OwnOpening) => Partial<OwnOpening>, said: string) =>
    void act.edit(
      (now) =>
        now.design.own_openings
          .filter((x) => x.id === o.id)
          .map((x) => ({ do: "put-own-opening", opening: { ...x, ...change(x) } })),
      said,
    );
  const close = (
    material: NonNullable<OwnOpening["pane"]>["material"] | null,
    said: string,
    change: Partial<
      Pick<NonNullable<OwnOpening["pane"]>, "thick_mm" | "overlap_mm" | "over_under_mm" | "held">
    > = {},
  ) =>
    void act.edit(
      [
        {
          do: "close-by",
          id: o.id,
          material,
          thick_mm: null,
          overlap_mm: null,
          over_under_mm: null,
          held: null,
          ...change,
        },
      ],
      said,
    );
  const { pane } = o;
  return (
    <Slip title={o.name} note={`${o.face} face`} {...slip}>
      <WordField
        label="Name"
        value={o.name}
        onWord={(name) => {
          put(() => ({ name }), `call it ${name}`);
        }}
      />
      <Choice
        tried
        label="Shape"
        value={o.shape}
        options={SHAPES}
        onPick={(shape) => {
          put(() => ({ shape }), `make it ${shape}`);
        }}
      />
      <PlaceFields act={act} id={shown.id} name={o.name} at={shown.at_mm} />
      {(o.shape === "round" ? (["diameter"] as const) : (["width", "height"] as const)).map((label, i) => (
        <NumberField
          tried
          key={label}
          label={label}
          value={o.size_mm[i]!}
          min={0.5}
          onCommit={(v) => {
            put((now) => ({ size_mm: withOne(now.size_mm, i, v) }), `size ${o.name}`);
          }}
        />
      ))}
      {o.shape === "rectangle" && (
        <NumberField
          tried
          label="corners"
          value={o.corner_mm}
          min={0}
          onCommit={(corner_mm) => {
            put(() => ({ corner_mm }), `corners of ${corner_mm} mm`);
          }}
        />
      )}
      <GoesAlong
        name={o.name}
        on={o.on}
        things={state.view.things}
        onPick={(on) =>
          void act.edit(
            [{ do: "anchor-own-opening", id: o.id, on }],
            on ? `${o.name} goes along` : `${o.name} stays on its face`,
          )
        }
      />
      <OnFace
        name={o.name}
        face={o.face}
        onPick={(face) => {
          put(() => ({ face }), `onto the ${face}`);
        }}
      />
      <label className="flex items-baseline gap-2">
        <Tick
          tried
          checked={o.allowed}
          onTick={(on) => {
            put(() => ({ allowed: on }), on ? "with its allowance" : "as it is");
          }}
        />
        Add the printer’s allowance
      </label>
      <Choice
        tried
        label="Closed by"
        value={o.pane?.material ?? "none"}
        options={PANES}
        onPick={(material) => {
          close(
            material === "none" ? null : material,
            material === "none" ? `${o.name} stays open` : `close ${o.name} with ${material}`,
          );
        }}
      />
      {pane && (
        <>
          <NumberField
            tried
            label="thickness"
            value={pane.thick_mm}
            min={0.5}
            onCommit={(thick_mm) => {
              close(pane.material, `a pane of ${thick_mm} mm`, { thick_mm });
            }}
          />
          <NumberField
            tried
            label={o.shape === "round" ? "overlap" : "overlap beside"}
            value={pane.overlap_mm}
            min={2}
            onCommit={(overlap_mm) => {
              close(pane.material, `${overlap_mm} mm of the pane on the wall`, { overlap_mm });
            }}
          />
          {o.shape !== "round" && (
            <NumberField
              tried
              label="and above"
              value={pane.over_under_mm ?? pane.overlap_mm}
              min={1}
              onCommit={(over_under_mm) => {
                close(pane.material, `${over_under_mm} mm of it above and below`, { over_under_mm });
              }}
            />
          )}
          <Choice
            tried
            label="Held by"
            value={pane.held}
            options={HELD}
            onPick={(held) => {
              close(pane.material, held === "glued" ? "glue it in" : "screw it on", { held });
            }}
          />
        </>
      )}
      {shown.pane && (
        <p className="text-[12px] text-soft">
          {shown.pane.screws.length > 0
            ? `${shown.pane.screws.length} screws M3 with nuts, from outside:`
            : "Glued or taped in from inside:"}{" "}
          <span className="num">
            {brief(shown.pane.size_mm[0], 1)} × {brief(shown.pane.size_mm[1], 1)}
          </span>{" "}
          mm, in a seat of{" "}
          <span className="num">
            {brief(shown.pane.seat_mm[0], 1)} × {brief(shown.pane.seat_mm[1], 1)}
          </span>{" "}
          mm that begins <span className="num">{brief(shown.pane.from_mm, 2)}</span> mm behind the outside.
        </p>
      )}
      <p className="border-t border-rule pt-1.5">
        <Why label="Allowance" trail={shown.allowance}>
          Allowance <span className="num">{brief(shown.allowance.value, 2)}</span> {shown.allowance.unit}
        </Why>
        ; cut <span className="num">{brief(shown.size_mm[0], 2)}</span>
        {o.shape !== "round" && (
          <>
            {" "}
            by <span className="num">{brief(shown.size_mm[1], 2)}</span>
          </>
        )}{" "}
        mm.
      </p>
      <Button
        kind="quiet"
        className="text-vermilion"
        onClick={() => void act.edit([{ do: "remove-own-opening", id: o.id }], `close ${o.name}`)}
      >
        Close this opening
      </Button>
    </Slip>
  );
}
