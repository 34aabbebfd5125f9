import type { Opening, OwnOpening, StateOut } from "../../api/schema";
import type { SheetProps } from "../../desk/sheetProps";
import { Slip, type Box } from "../../sheet/Slip";
import { Choice } from "../../ui/Choice";
import { Button } from "../../ui/Button";
import { brief } from "../../ui/number";
import { NumberField } from "../../ui/NumberField";
import { Why } from "../../ui/Why";
import { type Mark, moveTo, shownAt, withOne } from "./mark";

/** The numbers of one opening or vent field. */
export function OpeningSlip({
  state,
  act,
  mark: m,
  ...slip
}: SheetProps & {
  mark: Mark;
  beside: Box;
  avoid: Box[];
  within: { w: number; h: number };
  onClose: () => void;
}) {
  if (m.kind === "vent") {
    const field = state.design.vents.find((v) => v.id === m.o.id);
    return (
      <Slip title={m.o.label} note={`${m.o.face} face`} {...slip}>
        <p>
          <Why label="Free area asked for" trail={state.view.need.area_mm2}>
            <span className="num">{brief(m.o.free_area_mm2 / 100, 2)}</span> cm² free
          </Why>
          , {m.o.holes.length} holes of <span className="num">{brief(m.o.across_mm, 1)}</span> mm
          {m.o.dropped > 0 && `, ${m.o.dropped} left out where something is in the way`}
        </p>
        {field ? (
          <>
            {(["across", "up"] as const).map((label, i) => (
              <NumberField
                key={label}
                label={label}
                value={m.o.at_mm[i]!}
                onCommit={(v) => {
                  void act.edit((now) => moveTo(now, field.id, i, v), "move vents");
                }}
              />
            ))}
            {(["width", "height"] as const).map((label, i) => (
              <NumberField
                key={label}
                label={label}
                value={m.o.size_mm[i]!}
                min={5}
                onCommit={(v) => {
                  void act.edit(
                    (now) =>
                      now.design.vents
                        .filter((x) => x.id === field.id)
                        .map((x) => ({
                          do: "put-vent",
                          vent: { ...x, size_mm: withOne(x.size_mm, i, v), follow_heat: false },
                        })),
                    "size vents",
                  );
                }}
              />
            ))}
            <label className="flex items-baseline gap-2">
              <input
                type="checkbox"
                className="accent-(--plum)"
                checked={field.follow_heat}
                onChange={(e) =>
                  void act.edit(
                    [{ do: "put-vent", vent: { ...field, follow_heat: e.target.checked } }],
                    "vents and heat",
                  )
                }
              />
              The size follows the heat
            </label>
            <Button
              kind="quiet"
              className="text-vermilion"
              onClick={() => void act.edit([{ do: "remove-vent", id: field.id }], "remove vents")}
            >
              Close these vents
            </Button>
          </>
        ) : (
          <p className="text-soft">The grille belongs to its fan and moves with it.</p>
        )}
      </Slip>
    );
  }
  const own = state.design.own_openings.find((x) => `own/${x.id}` === m.o.id);
  if (own) return <OwnSlip state={state} act={act} own={own} shown={m.o} {...slip} />;
  const o = m.o;
  const stacked = state.view.things.find((t) => t.id === o.of && t.stand);
  const hand = state.design.openings.find((x) => x.port === o.id);
  const put = (
    change: (now: StateOut) => { at_mm?: [number, number] | null; size_mm?: [number, number] | null },
    said: string,
  ) =>
    void act.edit((now) => {
      const as = now.design.openings.find((x) => x.port === o.id);
      const opening = as ?? { port: o.id, anchor: "port" as const, at_mm: null, size_mm: null };
      return [{ do: "put-opening", opening: { ...opening, ...change(now) } }];
    }, said);
  return (
    <Slip title={o.label} note={`${o.of}, ${o.face} face`} {...slip}>
      {o.plug ? (
        <>
          {(["across", "up"] as const).map((label, i) => (
            <NumberField
              key={label}
              label={label}
              value={o.at_mm[i]!}
              onCommit={(v) => {
                void act.edit((now) => moveTo(now, o.id, i, v), `move ${o.label}`);
              }}
            />
          ))}
          {(["width", "height"] as const).map((label, i) => (
            <NumberField
              key={label}
              label={label}
              value={o.size_mm[i]!}
              min={0.5}
              onCommit={(v) => {
                put(
                  (now) => ({
                    size_mm: withOne(shownAt(now, o.id)?.size_mm ?? o.size_mm, i, v),
                  }),
                  `size ${o.label}`,
                );
              }}
            />
          ))}
        </>
      ) : (
        <p>
          <span className="num">{brief(o.size_mm[0], 2)}</span> mm across; it belongs to its part and moves
          with it.
        </p>
      )}
      <p className="border-t border-rule pt-1.5">
        <Why label="Allowance" trail={o.allowance}>
          Allowance <span className="num">{brief(o.allowance.value, 2)}</span> {o.allowance.unit}
        </Why>
        , real prints scatter by ±<span className="num">{brief(o.spread_mm, 2)}</span>.
      </p>
      {stacked && (
        <p>
          The stack below it is sure to{" "}
          <Why label={`How sure the height of ${stacked.name} is`} trail={stacked.height_sure}>
            ±<span className="num">{brief(stacked.height_sure.value, 2)}</span>
          </Why>{" "}
          mm, and so is the height of this port.
        </p>
      )}
      {o.plug && (
        <p>
          The connector is <span className="num">{brief(o.set_back_mm, 1)}</span> mm behind the outer surface
          {o.recess ? (
            <>
              ; a recess of <span className="num">{brief(o.recess.depth_mm, 1)}</span> mm lets the plug’s
              collar in.
            </>
          ) : (
            "."
          )}
        </p>
      )}
      <p className="text-[11.5px] text-soft">{o.source}</p>
      {hand && (
        <Button
          onClick={() => {
            put(() => ({ at_mm: null, size_mm: null }), "back to its port");
          }}
        >
          Back to its port
        </Button>
      )}
    </Slip>
  );
}

const SHAPES = (["rectangle", "slot", "round"] as const).map((value) => ({ value, label: value }));
const FACES = (["front", "back", "left", "right", "top", "bottom"] as const).map((f) => f);

/** The numbers of an opening of one's own. */
function OwnSlip({
  state,
  act,
  own: o,
  shown,
  ...slip
}: SheetProps & {
  own: OwnOpening;
  shown: Opening;
  beside: Box;
  avoid: Box[];
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
  const things = state.view.things;
  return (
    <Slip title={o.name} note={`${o.face} face`} {...slip}>
      <label className="flex items-baseline gap-2">
        <span className="w-[5.6rem] text-soft">Name</span>
        <input
          key={o.name}
          defaultValue={o.name}
          maxLength={60}
          className="min-w-0 flex-1 rounded-[3px] border border-rule bg-leaf px-1.5 py-0.5"
          onBlur={(e) => {
            const name = e.target.value.trim();
            if (name && name !== o.name) put(() => ({ name }), `call it ${name}`);
          }}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === "Enter") e.currentTarget.blur();
          }}
        />
      </label>
      <Choice
        label="Shape"
        value={o.shape}
        options={SHAPES}
        onPick={(shape) => {
          put(() => ({ shape }), `make it ${shape}`);
        }}
      />
      {(["across", "up"] as const).map((label, i) => (
        <NumberField
          key={label}
          label={label}
          value={shown.at_mm[i]!}
          onCommit={(v) => {
            void act.edit((now) => moveTo(now, shown.id, i, v), `move ${o.name}`);
          }}
        />
      ))}
      {(o.shape === "round" ? (["diameter"] as const) : (["width", "height"] as const)).map((label, i) => (
        <NumberField
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
          label="corners"
          value={o.corner_mm}
          min={0}
          onCommit={(corner_mm) => {
            put(() => ({ corner_mm }), `corners of ${corner_mm} mm`);
          }}
        />
      )}
      <label className="flex items-baseline gap-2">
        <span className="w-[5.6rem] text-soft">Goes along with</span>
        <select
          aria-label={`${o.name} goes along with`}
          value={o.on ?? ""}
          className="min-w-0 flex-1 rounded-[3px] border border-rule bg-leaf px-1 py-0.5"
          onChange={(e) => {
            void act.edit(
              [{ do: "anchor-own-opening", id: o.id, on: e.target.value || null }],
              e.target.value ? `${o.name} goes along` : `${o.name} stays on its face`,
            );
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
      <label className="flex items-baseline gap-2">
        <span className="w-[5.6rem] text-soft">On the</span>
        <select
          aria-label={`Face of ${o.name}`}
          value={o.face}
          className="rounded-[3px] border border-rule bg-leaf px-1 py-0.5"
          onChange={(e) => {
            const face = e.target.value as OwnOpening["face"];
            put(() => ({ face }), `onto the ${face}`);
          }}
        >
          {FACES.map((f) => (
            <option key={f}>{f}</option>
          ))}
        </select>
      </label>
      <label className="flex items-baseline gap-2">
        <input
          type="checkbox"
          className="accent-(--plum)"
          checked={o.allowed}
          onChange={(e) => {
            put(() => ({ allowed: e.target.checked }), e.target.checked ? "with its allowance" : "as it is");
          }}
        />
        Add the printer’s allowance
      </label>
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
