import { useAtOnce } from "./useAtOnce";

interface Props {
  checked: boolean;
  onTick: (on: boolean) => void;
  "aria-label"?: string;
}

/** A box to tick; its words stand beside it in the label that holds it. */
export function Tick({ checked, onTick, ...rest }: Props) {
  const { shown, sent, send } = useAtOnce(checked);
  return (
    <input
      type="checkbox"
      className={`accent-(--plum) ${sent ? "outline-1 outline-offset-1 outline-plum outline-dashed" : ""}`}
      checked={shown}
      aria-busy={sent}
      onChange={(e) => {
        send(e.target.checked);
        onTick(e.target.checked);
      }}
      {...rest}
    />
  );
}
