const RADIUS = 8;

/** A quarter-circle dial: the pale wedge is what is allowed, the hand is what was measured. */
export function AngleDial({
  angleRad,
  toleranceRad,
  isOff,
}: {
  angleRad: number;
  toleranceRad: number;
  isOff: boolean;
}) {
  const at = (rad: number, radius = RADIUS): string => {
    const held = Math.min(rad, Math.PI / 2);
    return `${(1 + radius * Math.cos(held)).toFixed(2)} ${(10 - radius * Math.sin(held)).toFixed(2)}`;
  };
  return (
    <svg aria-hidden viewBox="0 0 11 11" className="size-5">
      <path d={`M1 10 L${at(0)} A${RADIUS} ${RADIUS} 0 0 0 ${at(toleranceRad)} Z`} fill="var(--color-base-300)" />
      <path
        d={`M${at(0)} A${RADIUS} ${RADIUS} 0 0 0 ${at(Math.PI / 2)}`}
        fill="none"
        stroke="var(--ink-quiet)"
        strokeWidth={0.6}
      />
      <path
        d={`M1 10 L${at(angleRad, RADIUS + 0.8)}`}
        stroke={isOff ? 'var(--color-warning)' : 'var(--color-success)'}
        strokeWidth={1.5}
        strokeLinecap="round"
      />
    </svg>
  );
}
