'use client';

import { useMemo, useRef, useState } from 'react';
import { BONE_DRAG } from '../bone-drag';
import { roleOf, type Definition } from '@/core/definition/definition';
import { percentText, shortenMiddle } from '../text';
import { captionX, layoutLineMap, MAP_HEIGHT, MAP_WIDTH, mostLetters, neighbourStop, type Stop } from './layout';
import { StopMark, type StopState } from './StopMark';

/** What the map knows of one role. */
export interface MapRole {
  readonly state: StopState;
  /** Name of the bone, and how much of its start is the rig's own prefix. */
  readonly bone: { readonly index: number; readonly name: string; readonly prefixLength: number } | null;
  readonly confidence: number | null;
}

export interface LineMapProps {
  readonly definition: Definition;
  readonly roles: ReadonlyMap<string, MapRole>;
  /** Extra bones in a run: after which role, how many. */
  readonly members: ReadonlyMap<string, number>;
  /** Roles whose other side is not like them. */
  readonly breaks: ReadonlySet<string>;
  /** Lower role and the role that should lead it, where the tree says otherwise. */
  readonly disorder: readonly (readonly [role: string, above: string])[];
  /** Roles that differ from the fit this one is compared with. */
  readonly differing: ReadonlySet<string>;
  readonly selected: string | null;
  readonly hoveredBone: number | null;
  readonly onSelect: (role: string) => void;
  readonly onHover: (role: string | null) => void;
  /** A bone of the ledger was let go on a stop. */
  readonly onDropBone: (role: string, bone: number) => void;
  /** A stop was dragged onto another one. */
  readonly onSwap: (from: string, to: string) => void;
}

const STATE_WORDS: Record<StopState, string> = {
  settled: 'settled',
  proposed: 'proposed',
  doubtful: 'doubtful',
  vacant: 'vacant',
  clash: 'clash',
};

export function LineMap({
  definition,
  roles,
  members,
  breaks,
  disorder,
  differing,
  selected,
  hoveredBone,
  onSelect,
  onHover,
  onDropBone,
  onSwap,
}: LineMapProps) {
  const [target, setTarget] = useState<string | null>(null);
  /** Stop under the pointer while one is dragged; SVG has no drag of its own. */
  const dragged = useRef<string | null>(null);
  const stopAt = (event: { clientX: number; clientY: number }) =>
    document.elementFromPoint(event.clientX, event.clientY)?.closest('[data-role]')?.getAttribute('data-role') ?? null;
  const layout = useMemo(() => layoutLineMap(definition), [definition]);
  const svg = useRef<SVGSVGElement>(null);
  const tabStop = selected ?? layout.stops[0].role;
  const move = (event: React.KeyboardEvent, stop: Stop) => {
    const direction = ({ ArrowLeft: 'left', ArrowRight: 'right', ArrowUp: 'up', ArrowDown: 'down' } as const)[
      event.key as 'ArrowLeft'
    ];
    if (direction) {
      event.preventDefault();
      const next = neighbourStop(layout.stops, stop, direction);
      onSelect(next.role);
      svg.current?.querySelector<SVGGElement>(`[data-role="${next.role}"]`)?.focus();
    } else if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault();
      onSelect(stop.role);
    }
  };
  return (
    <svg
      ref={svg}
      viewBox={`0 0 ${MAP_WIDTH} ${MAP_HEIGHT}`}
      className="block max-h-full w-full select-none"
      role="group"
      aria-label={`Line map of ${definition.label}`}
    >
      {layout.tracks.map((track, at) => (
        <polyline
          key={at}
          points={track.points.map((point) => point.join()).join(' ')}
          fill="none"
          strokeLinejoin="round"
          strokeWidth={track.isThin ? 2 : track.side === 'centre' ? 7 : 4}
          stroke={track.side === 'centre' ? 'var(--color-base-300)' : `var(--tint-${track.side})`}
          opacity={track.isThin ? 0.75 : 1}
        />
      ))}
      <text x={300} y={MAP_HEIGHT / 2 - 98} fontSize={13} fontWeight={600} fill="var(--tint-left)">
        Character&rsquo;s left
      </text>
      <text x={300} y={MAP_HEIGHT / 2 + 106} fontSize={13} fontWeight={600} fill="var(--tint-right)">
        Character&rsquo;s right
      </text>
      {layout.digitLabels.map((label) => (
        <text key={`${label.x} ${label.y}`} x={label.x} y={label.y + 4} fontSize={12} fill="var(--ink-quiet)">
          {label.text}
        </text>
      ))}
      <text x={762} y={MIDDLE_LABEL_Y} fontSize={12} fill="var(--ink-quiet)">
        Eyes
      </text>
      {disorder.map(([role, above]) => (
        <OrderLink
          key={role}
          from={layout.stops.find((stop) => stop.role === above)}
          to={layout.stops.find((stop) => stop.role === role)}
        />
      ))}
      {layout.stops.map((stop) => (
        <RunTicks key={`ticks ${stop.role}`} stop={stop} count={members.get(stop.role) ?? 0} />
      ))}
      {layout.stops.map((stop) => {
        const role = roles.get(stop.role) ?? { state: 'vacant' as const, bone: null, confidence: null };
        const label = roleOf(definition, stop.role).label;
        const isSelected = stop.role === selected;
        return (
          <g
            key={stop.role}
            data-role={stop.role}
            role="button"
            tabIndex={stop.role === tabStop ? 0 : -1}
            aria-pressed={isSelected}
            aria-label={`${label}: ${role.bone ? `${role.bone.name}, ` : ''}${STATE_WORDS[role.state]}${role.confidence !== null && role.state !== 'settled' ? ` ${percentText(role.confidence)}` : ''}${breaks.has(stop.role) ? ', unlike the other side' : ''}${differing.has(stop.role) ? ', differs from the other character' : ''}`}
            className="cursor-pointer outline-offset-2"
            onClick={() => onSelect(stop.role)}
            onKeyDown={(event) => move(event, stop)}
            onDragOver={(event) => {
              if (event.dataTransfer.types.includes(BONE_DRAG)) {
                event.preventDefault();
                setTarget(stop.role);
              }
            }}
            onDragLeave={() => setTarget(null)}
            onDrop={(event) => {
              event.preventDefault();
              setTarget(null);
              const bone = Number(event.dataTransfer.getData(BONE_DRAG));
              if (Number.isInteger(bone)) onDropBone(stop.role, bone);
            }}
            onPointerDown={(event) => {
              if (event.button === 0 && role.bone) dragged.current = stop.role;
            }}
            onPointerMove={(event) => {
              if (event.buttons & 1) setTarget(dragged.current && dragged.current !== stop.role ? stop.role : null);
            }}
            onPointerUp={(event) => {
              const [from, to] = [dragged.current, stopAt(event)];
              dragged.current = null;
              setTarget(null);
              if (from && to && from !== to) onSwap(from, to);
            }}
            onPointerEnter={() => onHover(stop.role)}
            onPointerLeave={() => onHover(null)}
          >
            <StopMark
              stop={stop}
              state={role.state}
              isSelected={isSelected}
              isHovered={stop.role === target || (role.bone !== null && role.bone.index === hoveredBone)}
            />
            {breaks.has(stop.role) && <BreakMark stop={stop} />}
            {differing.has(stop.role) && (
              <path
                d={`M${stop.x} ${stop.y - 17} l4.5 4.5 l-4.5 4.5 l-4.5 -4.5 z`}
                fill="var(--color-primary)"
                stroke="var(--color-base-100)"
              >
                <title>Differs from the other character</title>
              </path>
            )}
            {stop.caption !== 'none' && <Caption stop={stop} label={shortLabel(label)} role={role} />}
          </g>
        );
      })}
    </svg>
  );
}

const MIDDLE_LABEL_Y = 165;

/** The map says left and right by place. */
const shortLabel = (label: string): string =>
  label.replace(/^(Left|Right) /, '').replace(/^./, (letter) => letter.toUpperCase());

/** Bones of a run that carry no role: ticks across the line after the role they follow. */
function RunTicks({ stop, count }: { stop: Stop; count: number }) {
  return Array.from({ length: Math.min(count, 6) }, (_, at) => {
    const x = stop.x + 16 + at * 8;
    return (
      <line
        key={at}
        x1={x}
        x2={x}
        y1={stop.y - 6}
        y2={stop.y + 6}
        stroke="var(--color-base-content)"
        strokeWidth={1.5}
      />
    );
  });
}

/** A zigzag across the line: the mirror image is missing or another bone. */
function BreakMark({ stop }: { stop: Stop }) {
  const x = stop.x - (stop.caption === 'none' ? 9 : 13);
  const reach = stop.caption === 'none' ? 5 : 8;
  return (
    <polyline
      points={`${x - 2},${stop.y - reach} ${x + 2},${stop.y - reach / 3} ${x - 2},${stop.y + reach / 3} ${x + 2},${stop.y + reach}`}
      fill="none"
      stroke="var(--color-warning)"
      strokeWidth={2}
      strokeLinejoin="round"
    >
      <title>Unlike the other side</title>
    </polyline>
  );
}

/** From the stop that should lead to the one that does not follow it in the tree. */
function OrderLink({ from, to }: { from: Stop | undefined; to: Stop | undefined }) {
  if (!from || !to) return null;
  // On the side of the line where no captions stand.
  const bend = from.y !== to.y ? 0 : from.caption === 'above' ? 52 : -52;
  return (
    <path
      d={`M${from.x} ${from.y} Q${(from.x + to.x) / 2} ${(from.y + to.y) / 2 + bend} ${to.x} ${to.y}`}
      fill="none"
      stroke="var(--color-error)"
      strokeWidth={1.8}
      strokeDasharray="5 4"
    >
      <title>The tree does not follow this order</title>
    </path>
  );
}

function Caption({ stop, label, role }: { stop: Stop; label: string; role: MapRole }) {
  const isAbove = stop.caption === 'above';
  const [nameY, boneY] = isAbove ? [stop.y - 16, stop.y - 31] : [stop.y + 25, stop.y + 40];
  const x = captionX(stop);
  const tone =
    role.state === 'doubtful'
      ? 'var(--color-warning)'
      : role.state === 'clash'
        ? 'var(--color-error)'
        : 'var(--ink-quiet)';
  if (stop.caption === 'beside')
    return (
      <text x={stop.x} y={stop.y - 15} textAnchor="middle" fontSize={12} fill="var(--ink-quiet)">
        {label}
      </text>
    );
  return (
    <>
      <text x={x} y={nameY} textAnchor={stop.align} fontSize={13} fontWeight={600} fill="var(--color-base-content)">
        {label}
      </text>
      {role.bone && (
        <text x={x} y={boneY} textAnchor={stop.align} fontSize={11.5} fontFamily="var(--font-mono)" fill={tone}>
          <BoneText name={role.bone.name} prefixLength={role.bone.prefixLength} most={mostLetters(stop)} />
        </text>
      )}
    </>
  );
}

/** Without the rig's own prefix, which says nothing here; the ledger shows the whole name. */
function BoneText({ name, prefixLength, most }: { name: string; prefixLength: number; most: number }) {
  return (
    <>
      {shortenMiddle(name.slice(prefixLength) || name, most)}
      <title>{name}</title>
    </>
  );
}
