import type { PartOverBed } from "../../api/schema";
import { Button } from "../../ui/Button";
import { brief, show } from "../../ui/number";
import { moment } from "./seam";
import type { JoinKind } from "./seam";

type Seam = PartOverBed["seams"][number];

const HEADS = ["Joined by", "Places", "Bears, N m", "Within, mm", "Min"];

/** Which way to join a cut is proposed and why, and all ways beside one another. */
export function SeamWays({
  seam,
  name,
  onTake,
}: {
  seam: Seam;
  name: string;
  onTake: (by: JoinKind) => void;
}) {
  const { ways, proposed, why } = seam.choice;
  return (
    <div className="text-[12.5px]">
      <p>
        <span className="text-soft">Proposed:</span> <span className="font-medium">{proposed}</span>.{" "}
        <span className="text-soft">{why}</span>
      </p>
      {proposed !== seam.cut.joined && (
        <Button
          className="my-1"
          onClick={() => {
            onTake(proposed);
          }}
        >
          Join it by {proposed}
        </Button>
      )}
      <details>
        <summary className="w-fit cursor-pointer text-soft hover:text-ink">
          Compare the ways to join it
        </summary>
        <table className="mt-1 w-full border-collapse text-left">
          <caption className="sr-only">Ways to join {name}</caption>
          <thead className="text-[12px] text-soft">
            <tr className="border-b border-rule">
              {HEADS.map((h) => (
                <th key={h} scope="col" className="py-0.5 pr-2 font-normal">
                  {h}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {ways.map((w) => (
              <tr
                key={w.by}
                className={`border-b border-rule align-top ${w.by === seam.cut.joined ? "font-medium" : ""}`}
              >
                <th scope="row" className="py-0.5 pr-2 font-[inherit]">
                  {w.by}
                  <span className="block text-[12px] font-normal text-soft">
                    {w.takes}
                    {w.missing && ", not all in the drawer"}
                  </span>
                </th>
                <td className={`num pr-2 ${w.places < w.wanted ? "text-vermilion" : ""}`}>
                  {w.wanted === 0 ? "–" : w.places < w.wanted ? `${w.places} of ${w.wanted}` : w.places}
                </td>
                <td
                  className={`num pr-2 whitespace-nowrap ${w.holds.low_nm.value < w.holds.load_nm.value ? "text-vermilion" : ""}`}
                >
                  {moment(w.holds.low_nm.value)} – {moment(w.holds.high_nm)}
                </td>
                <td className="num pr-2 whitespace-nowrap">{brief(w.off_mm, 2)}</td>
                <td className="num pr-2 whitespace-nowrap">{show(w.minutes, 0)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </div>
  );
}
