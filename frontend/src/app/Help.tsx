import { Dialog } from "radix-ui";
import { useEffect, useState } from "react";

import { Button } from "../ui/Button";

const ORDER = [
  ["Brief", "what it is for, how often it is opened, what must be reached"],
  ["Parts", "the components: from the library, a file, or your calipers"],
  ["Bench", "where each of them stands; the numbers between them"],
  ["Shell", "walls round them, how the case is made and screwed"],
  ["Openings", "holes for ports and air, on the unfolded case"],
  ["Cuts", "parts over the bed: where they are cut, what joins the pieces"],
  ["Hardware", "every screw in its stack, the fewest kinds, magnets and their poles, what to buy"],
  ["Print plan", "pieces, beds, settings, hours, filament"],
] as const;
const KEYS = [
  ["1 … 8, or the letter of a stop", "go to that stop"],
  ["Ctrl K", "search and do, also from inside a field"],
  ["Ctrl Z, Ctrl Shift Z", "undo, redo"],
  ["Tab, Enter", "reach a component or an opening, and select it"],
  ["arrow keys", "move it by 1 mm; with Shift by 0.1 mm"],
  ["R", "turn a component by a quarter"],
  ["Delete", "take it out"],
  ["Escape", "let go of it"],
  ["C", "to the first concern; Tab goes on to its remedies"],
  ["?", "this page"],
] as const;
const WORDS = [
  ["component", "something bought: a board, a drive, a fan"],
  ["part", "something printed: base, lid, a panel"],
  ["piece", "a part, or what it is cut into for the bed"],
  ["allowance", "room that is added so that what is printed fits what is bought"],
  ["coupon", "a small print of one joint in five places, which tells what allowance a printer needs"],
  ["perimeter", "a line of the wall, as wide as the nozzle lays it"],
  ["boss, standoff", "what a screw goes into; what holds a board off a surface"],
  ["insert", "a brass thread that is melted into a boss"],
  ["captive nut", "a nut that is slid into a slot of its boss from the side"],
  ["nut from below", "a nut in a pocket under the floor; the screw goes through the post to it"],
  ["through bolt", "a screw through lid and base to a nut in a pocket under the floor"],
  ["threaded rod", "the same, cut to length, with a nut at either end, where no screw is so long"],
  ["bridge", "lines laid over an opening, held at their ends only"],
  ["brim", "a flat edge round the first layer that holds the corners down"],
] as const;

/** The order of the work, what the keys do, and the words of the trade. */
export function Help() {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const typing = e.target instanceof HTMLElement && e.target.closest("input, textarea, select");
      if (e.key === "?" && !typing) setOpen(true);
    };
    window.addEventListener("keydown", onKey);
    return () => {
      window.removeEventListener("keydown", onKey);
    };
  }, []);
  return (
    <Dialog.Root open={open} onOpenChange={setOpen} modal={false}>
      <Dialog.Trigger asChild>
        <Button kind="quiet" title="?">
          Help
        </Button>
      </Dialog.Trigger>
      <Dialog.Portal>
        {/* not Radix's own overlay: that writes a style into the page, which the page's policy forbids */}
        <div aria-hidden className="fixed inset-0 z-40 bg-ink/20" />
        <Dialog.Content
          aria-describedby={undefined}
          className="settle fixed top-1/2 left-1/2 z-50 max-h-[88vh] w-[56rem] max-w-[94vw] -translate-x-1/2 -translate-y-1/2 overflow-y-auto rounded-[4px] border border-rule bg-leaf p-6 shadow-[0_8px_30px_rgb(35_27_46/0.16)]"
        >
          <div className="mb-3 flex items-baseline justify-between">
            <Dialog.Title className="font-head text-[18px] font-semibold">Help</Dialog.Title>
            <Dialog.Close asChild>
              <Button kind="quiet">Close</Button>
            </Dialog.Close>
          </div>
          <div className="grid grid-cols-3 gap-8 max-[760px]:grid-cols-1">
            <List title="The order of the work" rows={ORDER} numbered />
            <List title="Keys" rows={KEYS} />
            <List title="Words" rows={WORDS} />
          </div>
          <p className="mt-5 max-w-3xl text-soft">
            Go back and forth as you like: every number stays editable, and every step can be undone. Concerns
            are on the right; each says its number, its limit, why, and what Rhombex can do about it. Any
            number with a dotted line under it answers why. What is dragged, typed or pointed at is looked at
            before it is given: let the mouse rest on a choice, and concerns and numbers show what it would
            do.
          </p>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function List({
  title,
  rows,
  numbered,
}: {
  title: string;
  rows: readonly (readonly [string, string])[];
  numbered?: boolean;
}) {
  return (
    <section>
      <h3 className="mb-1.5 font-head text-[14.5px] font-semibold">{title}</h3>
      <dl className="space-y-1.5">
        {rows.map(([word, said], i) => (
          <div key={word}>
            <dt className="font-medium">
              {numbered && <span className="num mr-1.5 text-soft">{i + 1}</span>}
              {word}
            </dt>
            <dd className="text-[12.5px] leading-snug text-soft">{said}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}
