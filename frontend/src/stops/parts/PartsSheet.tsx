import { Tabs } from "radix-ui";
import { useState } from "react";

import type { OwnOut } from "../../api/schema";
import type { SheetProps } from "../../desk/sheetProps";
import { Library } from "./Library";
import { NotebookRoom } from "./NotebookRoom";
import { PowerRoom } from "./PowerRoom";
import { ReadFile } from "./ReadFile";
import { StackRoom } from "./StackRoom";

const ROOMS = [
  ["library", "Library"],
  ["notebook", "Measure"],
  ["file", "From a file"],
  ["stack", "Stacks"],
  ["power", "Power"],
] as const;
type Room = (typeof ROOMS)[number][0];

/** What goes into the case: taken from the library, measured, read from a file; stacked, and fed. */
export function PartsSheet({ state, act }: SheetProps) {
  const [room, setRoom] = useState<Room>("library");
  const [shown, setShown] = useState<OwnOut | null>(null);
  const made = (c: OwnOut) => {
    setShown(c);
    setRoom("library");
  };
  return (
    <Tabs.Root
      value={room}
      onValueChange={(v) => {
        setRoom(v as Room);
      }}
      className="flex h-full min-h-0 flex-col"
    >
      <Tabs.List aria-label="Ways to a component" className="flex gap-1 border-b border-rule px-5 pt-2">
        {ROOMS.map(([key, label]) => (
          <Tabs.Trigger
            key={key}
            value={key}
            className="cursor-pointer border-b-2 border-transparent px-2.5 pb-1.5 text-soft hover:text-ink data-[state=active]:border-plum data-[state=active]:font-medium data-[state=active]:text-ink"
          >
            {label}
          </Tabs.Trigger>
        ))}
      </Tabs.List>
      <Tabs.Content value="library" className="min-h-0 flex-1" tabIndex={-1}>
        <Library state={state} act={act} fresh={shown} />
      </Tabs.Content>
      <Tabs.Content value="notebook" className="min-h-0 flex-1" tabIndex={-1}>
        <NotebookRoom onMade={made} />
      </Tabs.Content>
      <Tabs.Content value="file" className="min-h-0 flex-1" tabIndex={-1}>
        <ReadFile onMade={made} />
      </Tabs.Content>
      <Tabs.Content value="stack" className="min-h-0 flex-1" tabIndex={-1}>
        <StackRoom state={state} act={act} />
      </Tabs.Content>
      <Tabs.Content value="power" className="min-h-0 flex-1" tabIndex={-1}>
        <PowerRoom state={state} act={act} />
      </Tabs.Content>
    </Tabs.Root>
  );
}
