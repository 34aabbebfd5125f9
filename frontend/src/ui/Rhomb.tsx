import type { Finding } from "../api/schema";

const SAID = { stop: "Stops the print", weigh: "To be weighed", advice: "Advice" } as const;
const COLOUR = { stop: "text-vermilion", weigh: "text-saffron", advice: "text-slate" } as const;

/** The sign of a concern: filled stops the print, half-filled is to be weighed, outlined is advice. */
export function Rhomb({ severity, size = 14 }: { severity: Finding["severity"]; size?: number }) {
  return (
    <svg
      viewBox="0 0 14 16"
      width={size}
      height={(size * 16) / 14}
      role="img"
      aria-label={SAID[severity]}
      className={`shrink-0 ${COLOUR[severity]}`}
    >
      {severity === "weigh" && <path d="M7 1v14L1.5 8Z" fill="currentColor" />}
      <path
        d="M7 1 12.5 8 7 15 1.5 8Z"
        fill={severity === "stop" ? "currentColor" : "none"}
        stroke="currentColor"
        strokeWidth="1.5"
        strokeLinejoin="round"
      />
    </svg>
  );
}
