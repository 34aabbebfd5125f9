/** The head of a table, a word over each column. `wide`: with more air between them; `more`: a last column without a word. */
export function TableHead({
  heads,
  wide,
  more,
}: {
  heads: readonly string[];
  wide?: boolean;
  more?: boolean;
}) {
  return (
    <thead className="text-[12px] text-soft">
      <tr className="border-b border-ink/40">
        {heads.map((h) => (
          <th key={h} scope="col" className={`py-1 font-normal ${wide ? "pr-6" : "pr-3"}`}>
            {h}
          </th>
        ))}
        {more && <td />}
      </tr>
    </thead>
  );
}
