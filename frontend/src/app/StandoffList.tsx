import type { Put } from "../desk/workshop";
import { NumberList } from "../ui/NumberList";

/** The lengths of standoffs in the workshop, as a list that is typed. */
export function StandoffList({ lengths, put }: { lengths: readonly number[]; put: Put }) {
  return (
    <section className="mt-7 pb-6">
      <h2 className="mb-2 text-[16px]">Standoffs</h2>
      <NumberList
        label="Lengths that are bought"
        values={[...lengths].sort((a, b) => a - b)}
        placeholder="none"
        wide="w-96"
        onCommit={(v) => {
          put([{ do: "set-standoffs", lengths_mm: v }]);
        }}
      />
    </section>
  );
}
