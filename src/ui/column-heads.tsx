/** The heads of a small table's columns. @param right those of figures */
export function ColumnHeads({
  left,
  right = [],
  last = [],
}: {
  left: readonly string[];
  right?: readonly string[];
  /** Behind the figures. */
  last?: readonly string[];
}) {
  const head = (name: string, side: string) => (
    <th key={name} scope="col" className={`py-1 pr-3 font-normal ${side}`}>
      {name}
    </th>
  );
  return (
    <thead className="text-xs text-muted">
      <tr>
        {left.map((name) => head(name, 'text-left'))}
        {right.map((name) => head(name, 'text-right'))}
        {last.map((name) => head(name, 'text-left'))}
      </tr>
    </thead>
  );
}
