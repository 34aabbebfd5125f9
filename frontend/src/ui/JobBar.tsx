import { Progress } from "radix-ui";

import { Button } from "./Button";

/** How far long work is, what it is at, and a way to stop it: the same everywhere. */
export function JobBar({
  label,
  job,
  meanwhile,
  onStop,
}: {
  label: string;
  job: { share: number; what: string } | undefined;
  meanwhile: string;
  onStop: () => Promise<void>;
}) {
  const share = Math.round(Math.max(0, Math.min(1, job?.share ?? 0)) * 100);
  return (
    <div className="mb-2 flex flex-wrap items-center gap-x-4 gap-y-1" aria-live="polite">
      <Progress.Root
        value={share}
        aria-label={label}
        className="h-1.5 max-w-56 grow basis-44 overflow-hidden bg-rule"
      >
        <Progress.Indicator className="h-full bg-plum transition-[width]" style={{ width: `${share}%` }} />
      </Progress.Root>
      <span className="min-w-0 flex-1 basis-28 text-soft">{job?.what || meanwhile}</span>
      {job && <Button onClick={() => void onStop()}>Stop</Button>}
    </div>
  );
}
