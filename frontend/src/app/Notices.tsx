import { Button } from "../ui/Button";
import { useElsewhere, useUi } from "../desk/desk";
import type { SheetProps } from "../desk/sheetProps";

/** What went wrong, and two windows on one design: said at the foot of the sheet, in nobody's way. */
export function Notices({ state, act }: SheetProps) {
  const { notice, conflict, set } = useUi();
  const { ahead, takeOver } = useElsewhere(state);
  if (!notice && !conflict) {
    if (!ahead) return null;
    return (
      <div
        role="status"
        className="settle absolute inset-x-4 bottom-3 z-40 flex items-center gap-3 rounded-[4px] border border-saffron bg-leaf px-3.5 py-2.5 shadow-[0_8px_30px_rgb(35_27_46/0.16)]"
      >
        <p className="flex-1">
          <strong className="font-medium">Another window has changed this design.</strong> What you type here
          is kept until you look at it.
        </p>
        <Button kind="main" onClick={() => void takeOver()}>
          Show how it stands now
        </Button>
      </div>
    );
  }
  return (
    <div
      role="alert"
      className="settle absolute inset-x-4 bottom-3 z-40 flex items-center gap-3 rounded-[4px] border border-vermilion bg-leaf px-3.5 py-2.5 shadow-[0_8px_30px_rgb(35_27_46/0.16)]"
    >
      {conflict ? (
        <>
          <p className="flex-1">
            <strong className="font-medium">Another window changed this design first.</strong> You now see how
            it stands; nothing was overwritten, and your change was not made.
          </p>
          {conflict.edits.length > 0 && (
            <Button
              kind="main"
              onClick={() => {
                set({ conflict: null });
                void act.edit(conflict.edits, conflict.said);
              }}
            >
              Make my change again
            </Button>
          )}
          <Button
            onClick={() => {
              set({ conflict: null });
            }}
          >
            Take over how it stands
          </Button>
        </>
      ) : (
        notice && (
          <>
            <p className="flex-1">
              <strong className="font-medium">{notice.field}:</strong> {notice.message} {notice.kept}{" "}
              {notice.do}
            </p>
            <Button
              onClick={() => {
                set({ notice: null });
              }}
            >
              Close
            </Button>
          </>
        )
      )}
    </div>
  );
}
