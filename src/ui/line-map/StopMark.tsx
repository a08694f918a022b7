import { hitBoxes, type Stop } from './layout';

export type StopState = 'settled' | 'proposed' | 'doubtful' | 'vacant' | 'clash';

const HEIGHT = 19;
const DIGIT_HEIGHT = 14;

/** A bar across the line; its fill tells the state without colour: full, half, question, empty, broken. */
export function StopMark({
  stop,
  state,
  isSelected,
  isHovered,
}: {
  stop: Stop;
  state: StopState;
  isSelected: boolean;
  isHovered: boolean;
}) {
  const isSmall = stop.caption === 'none';
  const width = state === 'doubtful' ? (isSmall ? 9 : 11) : isSmall ? 7 : stop.isRequired ? 9 : 6;
  const height = isSmall ? DIGIT_HEIGHT : state === 'doubtful' ? 21 : HEIGHT;
  const [x, y] = [stop.x - width / 2, stop.y - height / 2];
  const colour =
    state === 'doubtful' ? 'var(--color-warning)' : state === 'clash' ? 'var(--color-error)' : 'var(--color-success)';
  return (
    <>
      {hitBoxes(stop).map((box, at) => (
        <rect key={at} {...box} fill="transparent" />
      ))}
      {(isSelected || isHovered) && (
        <rect
          x={x - 5}
          y={y - 5}
          width={width + 10}
          height={height + 10}
          rx={5}
          fill="var(--accent-wash)"
          stroke={isSelected ? 'var(--color-primary)' : 'none'}
          strokeWidth={1.5}
        />
      )}
      {state === 'vacant' && (
        <rect
          x={x}
          y={y}
          width={width}
          height={height}
          rx={2}
          fill="var(--color-base-100)"
          stroke="var(--ink-quiet)"
          strokeWidth={1.4}
        />
      )}
      {state === 'settled' && (
        <rect x={x} y={y} width={width} height={height} rx={2} fill={colour} stroke={colour} strokeWidth={1.4} />
      )}
      {state === 'proposed' && (
        <>
          <rect
            x={x}
            y={y}
            width={width}
            height={height}
            rx={2}
            fill="var(--color-base-100)"
            stroke={colour}
            strokeWidth={1.6}
          />
          <rect x={x} y={y + height / 2} width={width} height={height / 2} rx={1.5} fill={colour} />
        </>
      )}
      {state === 'doubtful' && (
        <>
          <rect
            x={x}
            y={y}
            width={width}
            height={height}
            rx={2}
            fill="var(--color-base-100)"
            stroke={colour}
            strokeWidth={2}
          />
          <text
            x={stop.x}
            y={stop.y + (isSmall ? 3.8 : 4.5)}
            textAnchor="middle"
            fontSize={isSmall ? 10.5 : 13}
            fontWeight={700}
            fill={colour}
          >
            ?
          </text>
        </>
      )}
      {state === 'clash' && (
        <>
          <path d={`M${x} ${y} h${width} v${height * 0.36} l${-width} ${height * 0.16} z`} fill={colour} />
          <path d={`M${x} ${y + height} h${width} v${-height * 0.46} l${-width} ${height * 0.16} z`} fill={colour} />
        </>
      )}
    </>
  );
}
