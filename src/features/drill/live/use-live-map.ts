import { useMemo, useState } from 'react';
import { HOUSE_SET } from '@/core/house/house-set';
import { MOST_FRAMES } from '@/core/motion/frame-times';
import type { LiveWanted } from '@/workers/browser/live.worker';
import { useCharacter } from '../../character/character-context';
import { houseMotionId } from '../chosen-motion';
import { charactersOf, houseSource, shelfSource, withAppended } from '../drill-subject';
import { useCharacters } from '../use-characters';
import type { Shelf } from '../use-shelf';

/** A motion on the map, and where a person put it; null for where its own speed puts it. */
interface Placed {
  readonly key: string;
  readonly at: { readonly side: number; readonly ahead: number } | null;
}

const USUAL: readonly Placed[] = ['idle', 'walk', 'run', 'walk-left', 'walk-right', 'walk-back'].map((entry) => ({
  key: houseMotionId(entry),
  at: null,
}));
const KEPT_UNDER = 'yarvo-live-map';

/** The map as this browser kept it; the usual one where it kept none, or none that can be read. */
function keptMap(): readonly Placed[] {
  try {
    const kept: unknown = JSON.parse(window.localStorage.getItem(KEPT_UNDER) ?? 'null');
    if (!Array.isArray(kept) || kept.length === 0) return USUAL;
    return kept.flatMap((each: Partial<Placed>): Placed[] =>
      typeof each.key === 'string' ? [{ key: each.key, at: each.at ?? null }] : [],
    );
  } catch {
    return USUAL;
  }
}

/** The motions that are steered with, and where they stand on the map. */
export function useLiveMap(isOn: boolean, shelf: Shelf) {
  const { definition } = useCharacter();
  const [map, setMap] = useState<readonly Placed[] | null>(null);
  const kept = useMemo(() => (isOn ? keptMap() : USUAL), [isOn]);
  const placed = map ?? kept;
  const list = useMemo(() => shelf.list?.motions ?? [], [shelf.list]);
  const needed = useMemo(
    () =>
      placed.flatMap(({ key }) => {
        const motion = isOn ? list.find(({ id }) => id === key) : undefined;
        return motion ? withAppended(motion, list).flatMap(charactersOf) : [];
      }),
    [placed, list, isOn],
  );
  const known = useCharacters(needed, definition.id);
  const mostFrames = shelf.list?.mostFrames ?? MOST_FRAMES;
  const wanted = useMemo<LiveWanted | null>(() => {
    if (!isOn) return null;
    const house = (entry: string) => {
      const found = HOUSE_SET.find(({ id }) => id === entry);
      return found ? houseSource({ entry, settings: found.settings }, definition, mostFrames) : null;
    };
    const sourceOf = (key: string) => {
      const [, entry] = /^house-(.+)$/.exec(key) ?? [];
      if (entry !== undefined) return house(entry);
      const motion = list.find(({ id }) => id === key);
      return motion ? shelfSource(motion, null, { list, known, definition, mostFrames }) : null;
    };
    const choices = placed.flatMap(({ key, at }) => {
      const source = sourceOf(key);
      return source ? [{ key, at, source }] : [];
    });
    if (choices.length === 0) return null;
    return {
      choices,
      turnLeft: house('turn-left'),
      turnRight: house('turn-right'),
      crouch: house('crouch'),
      jump: house('jump'),
    };
  }, [isOn, placed, list, known, definition, mostFrames]);
  const change = (next: readonly Placed[] | null): void => {
    setMap(next ?? USUAL);
    try {
      if (next) window.localStorage.setItem(KEPT_UNDER, JSON.stringify(next));
      else window.localStorage.removeItem(KEPT_UNDER);
    } catch {
      // A browser that keeps nothing keeps no map.
    }
  };
  const names = new Map([
    ...list.map(({ id, name }) => [id, name] as const),
    ...HOUSE_SET.map(({ id, label }) => [houseMotionId(id), label] as const),
  ]);
  return {
    wanted,
    key: JSON.stringify([placed, definition.id, wanted?.choices.map(({ key }) => key)]),
    nameOf: (key: string): string => names.get(key) ?? key,
    others: [...names]
      .filter(([key]) => !placed.some((each) => each.key === key))
      .map(([key, name]) => ({ key, name })),
    onMove: (key: string, at: NonNullable<Placed['at']>) =>
      change(placed.map((each) => (each.key === key ? { key, at } : each))),
    onAdd: (key: string) => change([...placed, { key, at: null }]),
    onRemove: (key: string) => change(placed.filter((each) => each.key !== key)),
    onReset: () => change(null),
  };
}
