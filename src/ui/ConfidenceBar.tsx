/** A small bar; its fill and its text both say how sure. Ochre below the threshold, petrol above. */
export function ConfidenceBar({
  value,
  isDoubtful,
  width = 40,
}: {
  value: number;
  isDoubtful: boolean;
  width?: number;
}) {
  return (
    <span aria-hidden className="inline-block h-1.5 shrink-0 rounded-full bg-base-300" style={{ width }}>
      <span
        className={`block h-full rounded-full ${isDoubtful ? 'bg-warning' : 'bg-success'}`}
        style={{ width: `${Math.round(value * 100)}%` }}
      />
    </span>
  );
}
