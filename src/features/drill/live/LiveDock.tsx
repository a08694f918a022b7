'use client';

import { useEffect, useMemo, useRef, useState } from 'react';
import { triangulate, type MapNode } from '@/core/live/live-map';
import { StripChart } from '../chart/StripChart';
import type { PlayerHandle } from '../use-player';
import { LIVE_KEYS } from './live-input';
import type { Live } from './use-live';

interface LiveDockProps {
  readonly live: Live;
  readonly nameOf: (key: string) => string;
  /** Further motions that can be put on the map. */
  readonly others: readonly { readonly key: string; readonly name: string }[];
  readonly onMove: (key: string, at: { readonly side: number; readonly ahead: number }) => void;
  readonly onAdd: (key: string) => void;
  readonly onRemove: (key: string) => void;
  readonly onReset: () => void;
  readonly onLeave: () => void;
}

/** What steers, what is blended of which motion just now, and what the last ten seconds came to. */
export function LiveDock({ live, nameOf, others, onMove, onAdd, onRemove, onReset, onLeave }: LiveDockProps) {
  const { info, judged, judge, onShown } = live;
  const slide = useRef<HTMLSpanElement>(null);
  useEffect(
    () =>
      onShown(({ slidePercent }) => {
        if (slide.current) slide.current.textContent = `${slidePercent.toFixed(1)} %`;
      }),
    [onShown],
  );
  return (
    <section aria-label="Live" className="flex h-72 shrink-0 border-t border-base-300 bg-base-100 text-[13px]">
      <div className="flex w-80 shrink-0 flex-col border-r border-base-300 p-2">
        <div className="flex items-baseline gap-2">
          <h2 className="font-semibold">Map of motions</h2>
          <button className="btn ml-auto btn-ghost btn-xs" onClick={onReset}>
            As it was
          </button>
        </div>
        {info ? (
          <MotionMap nodes={info.nodes} nameOf={nameOf} live={live} onMove={onMove} onRemove={onRemove} />
        ) : (
          <p className="quiet m-auto">Making the motions …</p>
        )}
        <select
          aria-label="Put a motion on the map"
          className="select w-full select-xs"
          value=""
          onChange={(event) => onAdd(event.target.value)}
        >
          <option value="">Put a motion on the map …</option>
          {others.map(({ key, name }) => (
            <option key={key} value={key}>
              {name}
            </option>
          ))}
        </select>
      </div>
      <div className="flex min-w-0 flex-1 flex-col">
        <div className="flex items-center gap-4 px-3 py-1.5">
          <dl className="flex flex-wrap items-center gap-x-4 gap-y-1">
            {LIVE_KEYS.map(([keys, does]) => (
              <div key={keys} className="flex items-center gap-1">
                <dt>
                  <kbd className="kbd kbd-xs">{keys}</kbd>
                </dt>
                <dd className="quiet">{does}</dd>
              </div>
            ))}
          </dl>
          <p className="ml-auto whitespace-nowrap">
            slide{' '}
            <span ref={slide} className="font-mono tabular-nums">
              0.0 %
            </span>
          </p>
          <button className="btn btn-xs" onClick={judge}>
            Measure the last 10 s
          </button>
          <button className="btn btn-xs" onClick={onLeave}>
            Stop steering
          </button>
        </div>
        {judged ? (
          <div className="flex min-h-0 flex-1 flex-col">
            <StripChart
              handle={UNPLAYED}
              judged={judged}
              frameCount={judged.measures[0]?.values.length ?? 1}
              isOld={false}
              chosen={null}
              onChoose={() => undefined}
              onSeek={() => undefined}
            />
          </div>
        ) : (
          <p className="quiet m-auto max-w-md text-center">
            Steer with the keys or a gamepad: left stick goes, right stick turns. The last ten seconds can be measured
            at any time.
          </p>
        )}
      </div>
    </section>
  );
}

/** What was steered has no transport: the chart stands still. */
const UNPLAYED: PlayerHandle = { player: null, state: null, onFrame: () => () => undefined };

/** Names of motions at the edges stand above them, where they have room. */
const isAside = ({ side }: MapNode): boolean => Math.abs(side) > 0.05;

const SIZE = 190;
const WIDE = 190;
const EDGE = 16;
/** For names. */
const MARGIN = 42;

interface MapProps {
  readonly nodes: readonly MapNode[];
  readonly nameOf: (key: string) => string;
  readonly live: Live;
  readonly onMove: LiveDockProps['onMove'];
  readonly onRemove: LiveDockProps['onRemove'];
}

/** Speed to the left and ahead: motions as marks that grow with their weight, triangles between them. */
function MotionMap({ nodes: given, nameOf, live: { onShown }, onMove, onRemove }: MapProps) {
  const [drag, setDrag] = useState<{ readonly key: string; readonly side: number; readonly ahead: number } | null>(
    null,
  );
  const marks = useRef(new Map<number, SVGCircleElement>());
  const nodes = useMemo(
    () => given.map((node) => (node.key === drag?.key ? { ...node, side: drag.side, ahead: drag.ahead } : node)),
    [given, drag],
  );
  const triangles = useMemo(() => triangulate(nodes), [nodes]);
  // Sideways one goes far slower than ahead: each axis has its own scale, and rest its place between.
  const frame = useMemo(() => {
    const aside = Math.max(0.3, ...given.map(({ side }) => Math.abs(side)));
    const low = Math.min(-0.3, ...given.map(({ ahead }) => ahead));
    const high = Math.max(0.3, ...given.map(({ ahead }) => ahead));
    return { aside: (WIDE / 2 - EDGE) / aside, ahead: (SIZE - 2 * EDGE) / (high - low), high };
  }, [given]);
  useEffect(
    () =>
      onShown(({ weights }) => {
        for (const [at, mark] of marks.current) mark.setAttribute('r', String(3 + 9 * Math.sqrt(weights[at] ?? 0)));
      }),
    [onShown],
  );
  // Left is on the left: the figure is seen from behind.
  const at = ({ side, ahead }: Pick<MapNode, 'side' | 'ahead'>): readonly [number, number] => [
    WIDE / 2 - side * frame.aside,
    EDGE + (frame.high - ahead) * frame.ahead,
  ];
  return (
    <svg
      viewBox={`${-MARGIN} 0 ${WIDE + 2 * MARGIN} ${SIZE}`}
      className="min-h-0 flex-1 touch-none"
      role="img"
      aria-label={`Map: ${nodes.map(({ key, side, ahead }) => `${nameOf(key)} at ${ahead.toFixed(1)} ahead, ${side.toFixed(1)} left`).join('; ')}`}
      onPointerMove={(event) => {
        if (!drag) return;
        const svg = event.currentTarget;
        const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM()?.inverse());
        setDrag({
          ...drag,
          side: (WIDE / 2 - point.x) / frame.aside,
          ahead: frame.high - (point.y - EDGE) / frame.ahead,
        });
      }}
      onPointerUp={() => {
        if (drag) onMove(drag.key, { side: drag.side, ahead: drag.ahead });
        setDrag(null);
      }}
    >
      {triangles.map((triangle) => (
        <polygon
          key={triangle.join()}
          points={triangle.map((node) => at(nodes[node]).join()).join(' ')}
          className="fill-base-200 stroke-base-300"
        />
      ))}
      {nodes.map((node, each) => {
        const [x, y] = at(node);
        return (
          <g
            key={node.key}
            className="cursor-move"
            onPointerDown={(event) => {
              event.currentTarget.ownerSVGElement?.setPointerCapture(event.pointerId);
              setDrag({ key: node.key, side: node.side, ahead: node.ahead });
            }}
            onDoubleClick={() => nodes.length > 1 && onRemove(node.key)}
          >
            <circle
              ref={(element) => {
                if (element) marks.current.set(each, element);
                else marks.current.delete(each);
              }}
              cx={x}
              cy={y}
              r={3}
              className="fill-primary opacity-80"
            />
            <text
              x={isAside(node) ? x : x + 8}
              y={isAside(node) ? y - 12 : y - 7}
              textAnchor={isAside(node) ? 'middle' : 'start'}
              className="fill-base-content text-[10px]"
            >
              {nameOf(node.key)}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
