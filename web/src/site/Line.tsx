/** One fact. */
export function Line({ term, value }: { term: string; value: React.ReactNode }) {
  return (
    <li className="flex items-baseline justify-between gap-3 border-b border-rule py-1.5">
      <span className="shrink-0 text-second">{term}</span>
      <span className="min-w-0 text-right break-words">{value}</span>
    </li>
  );
}
