'use client';

import { ROOT_COMPONENTS, type RootComponent } from '@/core/motion/carry-options';
import { oneOf, useAddress, writeAddress } from '../character/use-address';

export const SOURCE_PLACES = ['beside', 'over', 'off'] as const;
type SourcePlace = (typeof SOURCE_PLACES)[number];

export const SPEEDS = [0.125, 0.25, 0.5, 1, 2] as const;

/** What the Drill shows, as the address says it. */
export interface DrillAddress {
  /** Id of a motion of the shelf, or "own-2" for a clip of the character's own; null for none yet. */
  readonly motion: string | null;
  readonly frame: number;
  readonly source: SourcePlace;
  /** How far the source, and each further character, stands aside; metres. */
  readonly gap: number;
  /** Other characters in the same motion. */
  readonly others: readonly string[];
  /** Whether the view follows the hips. */
  readonly follows: boolean;
  readonly speed: number;
  readonly isLooping: boolean;
  /** First and last frame of what plays; null for the whole motion. */
  readonly range: { readonly from: number; readonly to: number } | null;
  /** What of the travel the capsule follows; null while it is not shown. */
  readonly capsule: readonly RootComponent[] | null;
  /** Whether the character is steered instead of played. */
  readonly isLive: boolean;
  /** What was changed about a house motion, "speed:1.6,hands:left". */
  readonly set: string | null;
}

/** More figures than these hide each other. */
export const MOST_OTHERS = 5;

export function useDrillAddress(): DrillAddress {
  const params = useAddress();
  const [from, to] = (params.get('range') ?? '').split('-').map(Number);
  return {
    motion: params.get('motion'),
    frame: wholeOf(params.get('frame')),
    source: oneOf(SOURCE_PLACES, params.get('source'), 'beside'),
    gap: Math.max(0, Math.min(20, Number(params.get('gap') ?? 1) || 0)),
    others: (params.get('others') ?? '').split(',').filter(Boolean).slice(0, MOST_OTHERS),
    follows: params.get('follow') !== 'no',
    speed: SPEEDS.find((speed) => String(speed) === params.get('speed')) ?? 1,
    isLooping: params.get('loop') !== 'no',
    set: params.get('set'),
    isLive: params.get('live') === 'yes',
    capsule: capsuleOf(params.get('capsule')),
    range: Number.isInteger(from) && Number.isInteger(to) && to > from ? { from, to } : null,
  };
}

export function writeDrill(patch: Partial<DrillAddress>): void {
  const { others, follows, isLooping, range, speed, source, gap, capsule, isLive, ...rest } = patch;
  writeAddress({
    ...rest,
    ...(others && { others: others.join(',') || null }),
    ...(follows !== undefined && { follow: follows ? null : 'no' }),
    ...(isLooping !== undefined && { loop: isLooping ? null : 'no' }),
    ...(isLive !== undefined && { live: isLive ? 'yes' : null }),
    ...(capsule !== undefined && { capsule: capsule && (capsule.join(',') || 'none') }),
    ...(range !== undefined && { range: range && `${range.from}-${range.to}` }),
    ...(speed !== undefined && { speed: speed === 1 ? null : speed }),
    ...(source && { source: source === 'beside' ? null : source }),
    ...(gap !== undefined && { gap: gap === 1 ? null : Math.round(gap * 100) / 100 }),
  });
}

const capsuleOf = (text: string | null): readonly RootComponent[] | null =>
  text === null ? null : ROOT_COMPONENTS.filter((component) => text.split(',').includes(component));

const wholeOf = (text: string | null): number => (text !== null && /^\d+$/.test(text) ? Number(text) : 0);
