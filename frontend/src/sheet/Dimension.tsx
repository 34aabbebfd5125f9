interface Props {
  x1: number;
  y1: number;
  x2: number;
  y2: number;
  text: string;
  /** What is measured, for those who hear it. */
  name?: string;
  tone?: string;
  /** Pixels from the measured line to the dimension line, to its left seen along it. */
  off?: number;
}

/** A dimension line as on a drawing board: witness lines, slanted ticks, the number on the line. */
export function Dimension({ x1, y1, x2, y2, text, name, tone = "var(--slate)", off = 0 }: Props) {
  const len = Math.hypot(x2 - x1, y2 - y1);
  if (len < 0.01) return null;
  const ux = (x2 - x1) / len;
  const uy = (y2 - y1) / len;
  const [nx, ny] = [uy, -ux];
  const a = [x1 + nx * off, y1 + ny * off] as const;
  const b = [x2 + nx * off, y2 + ny * off] as const;
  const tick = (p: readonly [number, number]) =>
    `M${p[0] - (ux + nx) * 3.5} ${p[1] - (uy + ny) * 3.5}L${p[0] + (ux + nx) * 3.5} ${p[1] + (uy + ny) * 3.5}`;
  const wide = text.length * 6.4 + 8;
  const upright = Math.abs(uy) > Math.abs(ux);
  const tight = len < (upright ? 16 : wide);
  // a number that does not fit between the ticks stands beside the line
  const mx = (a[0] + b[0]) / 2 + (tight ? nx * 11 + (upright ? Math.sign(nx || 1) * (wide / 2 - 6) : 0) : 0);
  const my = (a[1] + b[1]) / 2 + (tight ? ny * 11 : 0);
  return (
    <g
      role={name ? "img" : undefined}
      aria-label={name && `${name}: ${text.replace("±", "plus or minus ")} mm`}
      stroke={tone}
      fill="none"
      strokeWidth="1"
      pointerEvents="none"
    >
      {off !== 0 && (
        <path
          d={`M${x1 + nx * 2} ${y1 + ny * 2}L${a[0] + nx * 4} ${a[1] + ny * 4}M${x2 + nx * 2} ${y2 + ny * 2}L${b[0] + nx * 4} ${b[1] + ny * 4}`}
          strokeOpacity="0.5"
        />
      )}
      <path d={`M${a[0]} ${a[1]}L${b[0]} ${b[1]}`} />
      <path d={tick(a) + tick(b)} strokeWidth="1.4" />
      <g transform={`translate(${mx} ${my})${upright && !tight ? " rotate(-90)" : ""}`}>
        <rect x={-wide / 2} y={-8} width={wide} height={16} fill="var(--leaf)" stroke="none" />
        <text
          textAnchor="middle"
          dominantBaseline="central"
          fill={tone}
          stroke="none"
          className="num"
          fontSize="11.5"
          fontWeight="500"
        >
          {text}
        </text>
      </g>
    </g>
  );
}
