/** One of many, in a small list. An option is its own label unless it brings one. */
export function Pick<T extends string>({
  label,
  value,
  options,
  className = "",
  onPick,
  ...rest
}: {
  label: string;
  value: T;
  options: readonly (T | readonly [T, string])[];
  className?: string;
  onPick: (v: T) => void;
  onFocus?: () => void;
  onBlur?: () => void;
}) {
  return (
    <select
      aria-label={label}
      value={value}
      className={`min-w-0 rounded-[3px] border border-rule bg-leaf px-1 py-0.5 ${className}`}
      onChange={(e) => {
        onPick(e.target.value as T);
      }}
      {...rest}
    >
      {options.map((o) => {
        const [key, text] = typeof o === "string" ? [o, o] : o;
        return (
          <option key={key} value={key}>
            {text}
          </option>
        );
      })}
    </select>
  );
}
