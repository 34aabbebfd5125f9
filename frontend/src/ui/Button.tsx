import type { ComponentProps } from "react";

type Kind = "plain" | "main" | "quiet";

const LOOK: Record<Kind, string> = {
  plain: "border border-rule bg-leaf hover:border-plum hover:text-plum",
  main: "border border-plum bg-plum text-paper hover:opacity-90",
  quiet: "border border-transparent hover:border-rule hover:bg-leaf",
};

/** A button. Its text is what it does. */
export function Button({
  kind = "plain",
  className = "",
  ...rest
}: ComponentProps<"button"> & { kind?: Kind }) {
  return (
    <button
      type="button"
      className={`inline-flex cursor-pointer items-center gap-1.5 rounded-[3px] px-2.5 py-1 leading-5 transition-colors disabled:cursor-default disabled:opacity-45 ${LOOK[kind]} ${className}`}
      {...rest}
    />
  );
}
