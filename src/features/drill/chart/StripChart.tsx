'use client';

import { Flag } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { DrillFlag } from '@/core/drill/judge/judge-motion';
import type { DrillJudged } from '@/workers/browser/drill-judged';
import type { PlayerHandle } from '../use-player';
import { bandText, curvePath, lanesOf, valueText, type Lane } from './lanes';

interface StripChartProps {
  readonly handle: PlayerHandle;
  readonly judged: DrillJudged;
  readonly frameCount: number;
  readonly isOld: boolean;
  readonly chosen: DrillFlag | null;
  readonly onChoose: (flag: DrillFlag) => void;
  readonly onSeek: (frame: number) => void;
}

const SHOWN = ['flagged', 'main', 'all'] as const;
type Shown = (typeof SHOWN)[number];
const SHOWN_TEXT: Readonly<Record<Shown, string>> = { flagged: 'Flagged', main: 'Main', all: 'All' };

/** What is measured in every frame, a row each: band, curves of left and right, and flags that lead to their frame. */
export function StripChart({ handle, judged, frameCount, isOld, chosen, onChoose, onSeek }: StripChartProps) {
  const { onFrame } = handle;
  const [shown, setShown] = useState<Shown>('main');
  const head = useRef<HTMLDivElement>(null);
  const cells = useRef(new Map<string, HTMLSpanElement>());
  const lanes = useMemo(() => lanesOf(judged.measures, judged.flags), [judged]);
  const rows = lanes.filter(({ flags, isMain }) => shown === 'all' || flags.length > 0 || (shown === 'main' && isMain));
  const { leg } = judged;
  const last = Math.max(1, frameCount - 1);
  useEffect(
    () =>
      onFrame(({ frame }) => {
        if (head.current) head.current.style.left = `${(frame / last) * 100}%`;
        for (const lane of lanes) {
          const cell = cells.current.get(lane.id);
          if (!cell) continue;
          cell.textContent = hereText(lane, frame, leg);
          cell.dataset.out = String(isOut(lane, frame));
        }
      }),
    [onFrame, lanes, last, leg, shown],
  );
  return (
    <section
      aria-label="Measures"
      aria-busy={isOld}
      className="flex min-h-0 flex-col border-t border-base-300 bg-base-100 text-[13px]"
    >
      <div className="flex shrink-0 items-baseline gap-3 px-3 pt-1">
        <h2 className="font-semibold">Measures</h2>
        <div role="group" aria-label="Rows" className="flex">
          {SHOWN.map((each) => (
            <button
              key={each}
              aria-pressed={shown === each}
              className={`rounded-field px-1.5 ${shown === each ? 'font-semibold text-primary' : 'quiet hover:text-base-content'}`}
              onClick={() => setShown(each)}
            >
              {SHOWN_TEXT[each]}
            </button>
          ))}
        </div>
        <p className="quiet">
          <span className="text-(--tint-left)">left</span> and <span className="text-(--tint-right)">right</span>
          {isOld && ', being measured again …'}
        </p>
        <span className="quiet ml-auto w-32 text-right">here</span>
        <span className="quiet w-28 pl-3">allowed</span>
      </div>
      <div role="group" aria-label="Rows of measures" tabIndex={0} className="min-h-0 flex-1 overflow-y-auto px-3 pb-1">
        {rows.length === 0 && <p className="quiet py-2">Nothing is flagged.</p>}
        <div className="relative">
          {rows.map((lane) => (
            <div key={lane.id} className="flex h-8 items-center border-b border-base-200">
              <span className="w-28 shrink-0 truncate">{lane.label}</span>
              <LaneView lane={lane} last={last} chosen={chosen} onChoose={onChoose} onSeek={onSeek} />
              <span
                ref={(element) => {
                  if (element) cells.current.set(lane.id, element);
                  else cells.current.delete(lane.id);
                }}
                className="w-32 shrink-0 pl-2 text-right font-mono text-xs whitespace-nowrap tabular-nums data-[out=true]:font-semibold data-[out=true]:text-warning"
              />
              <span className="quiet w-28 shrink-0 truncate pl-3 text-xs tabular-nums" title={limitTitle(lane)}>
                {bandText(lane.band, lane.unit, leg)}
              </span>
            </div>
          ))}
          <div className="pointer-events-none absolute inset-y-0 right-60 left-28">
            <div ref={head} className="absolute inset-y-0 w-0.5 -translate-x-1/2 bg-primary" />
          </div>
        </div>
      </div>
    </section>
  );
}

const hereText = ({ curves, unit }: Lane, frame: number, leg: number): string =>
  curves.map(({ values }) => valueText(values[frame] ?? NaN, unit, leg).replace(/ cm$/, '')).join(' · ') +
  (unit === '%' ? ' cm' : '');

const isOut = ({ flags }: Lane, frame: number): boolean =>
  flags.some(({ fromFrame, toFrame }) => frame >= fromFrame && frame <= toFrame);

const limitTitle = ({ band, unit }: Lane): string | undefined =>
  band && unit === '%' ? `${band.filter(Number.isFinite).join(' to ')} % of the leg` : undefined;

const BOX = { width: 600, height: 28 } as const;

interface LaneViewProps {
  readonly lane: Lane;
  readonly last: number;
  readonly chosen: DrillFlag | null;
  readonly onChoose: (flag: DrillFlag) => void;
  readonly onSeek: (frame: number) => void;
}

function LaneView({ lane, last, chosen, onChoose, onSeek }: LaneViewProps) {
  const { curves, band, range, flags } = lane;
  const y = (value: number): number =>
    Math.max(0, Math.min(BOX.height, BOX.height - ((value - range[0]) / (range[1] - range[0])) * BOX.height));
  const paths = useMemo(
    () => curves.map(({ side, values }) => ({ side, path: curvePath(values, range, BOX) })),
    [curves, range],
  );
  return (
    <div
      className="relative h-7 min-w-0 flex-1"
      onPointerDown={(event) => {
        const box = event.currentTarget.getBoundingClientRect();
        onSeek(Math.round(((event.clientX - box.left) / box.width) * last));
      }}
    >
      <svg aria-hidden viewBox={`0 0 ${BOX.width} ${BOX.height}`} preserveAspectRatio="none" className="size-full">
        {band && (
          <rect
            x={0}
            width={BOX.width}
            y={y(band[1])}
            height={Math.max(0.5, y(band[0]) - y(band[1]))}
            className="fill-base-200"
          />
        )}
        {flags.map(({ measure, fromFrame, toFrame }) => (
          <rect
            key={`${measure} ${fromFrame}`}
            x={(fromFrame / last) * BOX.width}
            width={Math.max(1, ((toFrame - fromFrame) / last) * BOX.width)}
            y={0}
            height={BOX.height}
            className="fill-warning opacity-15"
          />
        ))}
        {paths.map(({ side, path }, at) => (
          <path
            key={at}
            d={path}
            fill="none"
            vectorEffect="non-scaling-stroke"
            strokeWidth={1.4}
            className={
              side === 'left'
                ? 'stroke-(--tint-left)'
                : side === 'right'
                  ? 'stroke-(--tint-right)'
                  : 'stroke-base-content'
            }
          />
        ))}
      </svg>
      {flags.map((flag) => (
        <button
          key={`${flag.measure} ${flag.fromFrame}`}
          aria-label={`${flag.subject}, frame ${flag.worstFrame}`}
          title={flag.sentence}
          className={`absolute -top-0.5 -translate-x-0.5 text-warning ${flag === chosen ? 'scale-125' : ''}`}
          style={{ left: `${(flag.worstFrame / last) * 100}%` }}
          onPointerDown={(event) => event.stopPropagation()}
          onClick={() => onChoose(flag)}
        >
          <Flag aria-hidden className="size-3.5" fill="currentColor" />
        </button>
      ))}
    </div>
  );
}
