import type { StateOut } from "../../api/schema";
import type { SheetProps } from "../../desk/sheetProps";
import { type Avoid, type Box, Slip } from "../../sheet/Slip";
import { Button } from "../../ui/Button";
import { brief } from "../../ui/number";
import { NumberField } from "../../ui/NumberField";
import { Why } from "../../ui/Why";
import { Tick } from "../../ui/Tick";
import { IoPlate } from "./IoPlate";
import { type Mark, shownAt, withOne } from "./mark";
import { OwnSlip } from "./OwnSlip";
import { PlaceFields } from "./PlaceFields";
import { TextSlip } from "./TextSlip";

/** The numbers of one opening, vent field or text. */
export function OpeningSlip({
  state,
  act,
  mark: m,
  ...slip
}: SheetProps & {
  mark: Mark;
  beside: Box;
  avoid: Avoid[];
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
            <PlaceFields act={act} id={field.id} name="vents" at={m.o.at_mm} />
            {(["width", "height"] as const).map((label, i) => (
              <NumberField
                tried
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
              <Tick
                tried
                checked={field.follow_heat}
                onTick={(on) =>
                  void act.edit([{ do: "put-vent", vent: { ...field, follow_heat: on } }], "vents and heat")
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
  if (m.kind === "text") {
    const text = state.design.texts.find((x) => `text/${x.id}` === m.o.id);
    return text ? <TextSlip state={state} act={act} text={text} shown={m.o} {...slip} /> : null;
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
          <PlaceFields act={act} id={o.id} name={o.label} at={o.at_mm} />
          {(["width", "height"] as const).map((label, i) => (
            <NumberField
              tried
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
          {o.from_mm > 0 && " of its plate"}
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
      {o.plug && <IoPlate state={state} act={act} opening={o} />}
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
