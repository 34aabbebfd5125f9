/** Patterns that drawings share: soft room, cut plastic. */
export function Hatch() {
  return (
    <defs>
      <pattern id="soft" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <line x1="0" y1="0" x2="0" y2="6" stroke="var(--slate)" strokeWidth="0.7" strokeOpacity="0.55" />
      </pattern>
      <pattern
        id="cut"
        width="4.500"
        height="4.500"
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(-45)"
      >
        <rect width="4.500" height="4.500" fill="var(--plumwash)" />
        <line x1="0" y1="0" x2="0" y2="4.500" stroke="var(--plum)" strokeWidth="0.8" />
      </pattern>
    </defs>
  );
}
