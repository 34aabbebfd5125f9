import { NavLink } from "react-router";

import type { Finding, StateOut } from "../api/schema";
import { useHeld } from "../desk/useTried";
import { shownAt, STOPS, type StopKey } from "./stops";

/** The stops in the order of the work, as stations along one line; each shows what is still open there. */
export function Route({ state, here }: { state: StateOut; here: StopKey }) {
  const { view } = useHeld(state) ?? state;
  const open = (stop: StopKey, severity: Finding["severity"]) =>
    view.concerns.filter((c) => shownAt(c.stop) === stop && c.severity === severity).length;
  return (
    <nav
      aria-label="Route"
      className="relative border-r border-rule pt-4 max-[900px]:border-r-0 max-[900px]:border-b max-[900px]:pt-0"
    >
      <span aria-hidden className="absolute top-7 bottom-16 left-[22px] w-px bg-rule max-[900px]:hidden" />
      <ol className="max-[900px]:flex max-[900px]:flex-wrap max-[900px]:gap-x-2">
        {STOPS.map((s, i) => {
          const stops = open(s.key, "stop");
          const weigh = open(s.key, "weigh");
          const said = [stops && `${stops} ${stops === 1 ? "stop" : "stops"}`, weigh && `${weigh} to weigh`]
            .filter(Boolean)
            .join(", ");
          const begun = view.begun.includes(s.key);
          const tone = stops
            ? "fill-vermilion stroke-vermilion"
            : weigh
              ? "fill-leaf stroke-saffron"
              : begun
                ? "fill-leaf stroke-verdigris"
                : "fill-paper stroke-rule";
          return (
            <li key={s.key}>
              <NavLink
                to={`/designs/${state.id}/${s.key}`}
                title={`${s.label} (${i + 1} or ${s.letter})`}
                className={`group relative flex items-start gap-2.5 py-2.5 pl-3.5 ${here === s.key ? "font-semibold text-plum" : "hover:text-plum"}`}
              >
                {here === s.key && (
                  <span aria-hidden className="absolute inset-y-1 right-0 w-[3px] bg-plum" />
                )}
                <svg
                  viewBox="0 0 18 20"
                  width="17"
                  height="19"
                  aria-hidden
                  className={`mt-0.5 shrink-0 ${tone}`}
                >
                  <path d="M9 1.5 16 10 9 18.500 2 10Z" strokeWidth="1.6" />
                  {weigh > 0 && stops === 0 && <path d="M9 1.500V18.500L2 10Z" className="fill-saffron" />}
                </svg>
                <span className="min-w-0 pr-2 leading-tight">
                  {s.label}
                  <span className="block text-[11px] font-normal text-soft">
                    {said || (begun ? "clear" : "not begun")}
                  </span>
                </span>
              </NavLink>
            </li>
          );
        })}
      </ol>
    </nav>
  );
}
