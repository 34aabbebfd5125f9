/** Numbers as people type them: millimetres, inches, fractions, sums. */

const INCH_MM = 25.4;

/**
 * Read `85+2*3`, `1/2in`, `3.5"`, `2 1/2 in` or `12 mm` as millimetres.
 * Returns null where it is no number. A decimal comma is taken as a point.
 */
export function readMm(text: string): number | null {
  let s = text.trim().toLowerCase().replaceAll(",", ".");
  if (!s) return null;
  s = s.replace(/(\d)\s+(\d+\s*\/\s*\d+)/g, "($1+$2)");
  s = s.replace(/(\d+\s*\/\s*\d+)(?=\s*(in|"))/g, "($1)");
  const tokens = s.match(/\d+\.?\d*|\.\d+|in(?:ch)?|"|mm|[-+*/()]|\S/g) ?? [];
  let at = 0;
  const peek = () => tokens[at];

  function atom(): number | null {
    const t = tokens[at++];
    if (t === undefined) return null;
    if (t === "-" || t === "+") {
      const v = atom();
      return v === null ? null : t === "-" ? -v : v;
    }
    if (t === "(") {
      const v = sum();
      if (v === null || tokens[at++] !== ")") return null;
      return unit(v);
    }
    const v = Number(t);
    return Number.isFinite(v) ? unit(v) : null;
  }
  function unit(v: number): number {
    const t = peek();
    if (t === "mm") at++;
    if (t === "in" || t === "inch" || t === '"') {
      at++;
      return v * INCH_MM;
    }
    return v;
  }
  function product(): number | null {
    let v = atom();
    while (v !== null && (peek() === "*" || peek() === "/")) {
      const op = tokens[at++];
      const w = atom();
      if (w === null) return null;
      v = op === "*" ? v * w : v / w;
    }
    return v === null ? null : unit(v);
  }
  function sum(): number | null {
    let v = product();
    while (v !== null && (peek() === "+" || peek() === "-")) {
      const op = tokens[at++];
      const w = product();
      if (w === null) return null;
      v = op === "+" ? v + w : v - w;
    }
    return v;
  }
  const v = sum();
  return v === null || at < tokens.length || !Number.isFinite(v) ? null : Math.round(v * 1e4) / 1e4;
}

/**
 * Read a list as people type it, `2, 5.5; 8 mm`: each number once, rising. Returns the first word that is none.
 * A comma right before a digit is a decimal one.
 */
export function readList(text: string): number[] | string {
  const words = text
    .replace(/(\d),(?=\d)/g, "$1.")
    .replace(/\s+(mm|in(?:ch)?|")(?![a-z])/gi, "$1")
    .split(/[\s,;]+/)
    .filter(Boolean);
  const read = words.map(readMm);
  const bad = words[read.indexOf(null)];
  return bad ?? [...new Set(read.filter((v) => v !== null))].sort((a, b) => a - b);
}

/** A number with so many digits and no trailing noise; a true minus sign. */
export function show(v: number, digits = 1): string {
  const s = (Object.is(v, -0) ? 0 : v).toFixed(digits);
  return (Number(s) === 0 ? s.replace("-", "") : s).replace("-", "\u2212");
}

/** As short as it can be said with at most so many digits. */
export function brief(v: number, digits = 2): string {
  const s = show(v, digits);
  return s.includes(".") ? s.replace(/\.?0+$/, "") : s;
}

/** A time in words: `5 h 47 min`, `3 min 05 s`, `12 s`. */
export function duration(s: number): string {
  const m = Math.round(s / 60);
  if (s >= 3570) return `${Math.floor(m / 60)} h ${String(m % 60).padStart(2, "0")} min`;
  if (s < 59.95) return `${brief(s, 1)} s`;
  const whole = Math.round(s);
  return `${Math.floor(whole / 60)} min ${String(whole % 60).padStart(2, "0")} s`;
}

/** Round numbers along an axis from above nothing to at most `most`: steps of 1, 2 or 5, three to six of them. */
export function ticks(most: number): number[] {
  if (!(most > 0) || !Number.isFinite(most)) return [];
  const ten = 10 ** Math.floor(Math.log10(most));
  const step = [0.2, 0.5, 1, 2].map((s) => s * ten).find((s) => most / s < 6.5) ?? ten;
  return Array.from({ length: Math.floor(most / step + 1e-9) }, (_, i) =>
    Number(((i + 1) * step).toPrecision(6)),
  );
}

const SIGNS: Record<string, string> = { degC: "°C", mm2: "mm²", mm3: "mm³", cm2: "cm²", cm3: "cm³", x: "×" };

const SIGN_LONG = 6; // a unit that is longer is words, which may break over two lines

const ONE: Record<string, string> = { feet: "foot", bodies: "body", notches: "notch" };

/** What is counted, of one: holes, bridging plates, kinds of filament. */
function oneOf(unit: string): string {
  if (unit.length < 4) return unit;
  const [, noun, rest] = /^([a-z]+)s( (?:that|of|to|off|said)\b.*)?$/.exec(unit) ?? [];
  return ONE[unit] ?? (noun ? noun + (rest ?? "") : unit.replace(/^([a-z]+ [a-z]+)s$/, "$1"));
}

/** A value with its unit as people write it, on one line; seconds as a time. */
export function amount(v: number, unit: string, digits = 2): string {
  if (unit === "s") return v < 0 ? `\u2212${duration(-v)}` : duration(v);
  const sign = SIGNS[unit] ?? (v === 1 ? oneOf(unit) : unit);
  const told = `${brief(v, digits)} ${sign}`.trimEnd();
  return sign.length <= SIGN_LONG ? told.replaceAll(" ", "\u00a0") : told;
}

/** How a piece lies on its bed where it does not lie straight, to be added to a word. */
export function lies(angle_deg: number): string {
  return angle_deg === 0 ? "" : angle_deg === 90 ? ", turned" : `, across it at ${Math.round(angle_deg)}°`;
}
