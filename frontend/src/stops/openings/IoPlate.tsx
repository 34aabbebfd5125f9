import { useQuery } from "@tanstack/react-query";

import { api } from "../../api/client";
import type { Opening } from "../../api/schema";
import type { SheetProps } from "../../desk/sheetProps";
import { Button } from "../../ui/Button";

/** Puts the ports of a component on a printed plate of their own, or says why that cannot be done here. */
export function IoPlate({
  state,
  act,
  opening: o,
}: Pick<SheetProps, "state" | "act"> & { opening: Opening }) {
  const { data } = useQuery({
    queryKey: ["io-plates", state.id, state.version],
    queryFn: async ({ signal }) => {
      const path = { id: state.id };
      return (await api.GET("/api/designs/{id}/io-plates", { params: { path }, signal })).data?.plates ?? [];
    },
  });
  const own = state.view.openings.openings.find((x) => x.pane && o.parts.includes(x.pane.part));
  if (own) return <p className="text-soft">It is cut into the {own.label}.</p>;
  const plate = data?.find((x) => x.of === o.of && x.face === o.face);
  if (!plate) return null;
  const { edit } = plate;
  return (
    <div>
      {edit && (
        <Button onClick={() => void act.edit([edit], `ports on an I/O plate`)}>
          Put these ports on an I/O plate
        </Button>
      )}
      <p className="text-[12px] text-soft">{plate.words}</p>
    </div>
  );
}
