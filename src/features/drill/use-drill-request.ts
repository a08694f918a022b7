import { useMemo } from 'react';
import type { CharacterView } from '@/contract/character-view';
import { NO_ROOT_TRAVEL } from '@/core/motion/carry-options';
import type { Layer } from '@/core/motion/layer';
import { withLayer } from './layers/layer-edits';
import { MOST_FRAMES } from '@/core/motion/frame-times';
import { useCharacter } from '../character/character-context';
import { addressOf, type ChosenMotion } from './chosen-motion';
import { charactersOf, houseSource, ownSource, shelfSource, targetOf, withAppended } from './drill-subject';
import type { DrillRequest } from './use-carried';
import { useCharacters } from './use-characters';
import type { Shelf } from './use-shelf';

export interface DrillSubject {
  /** Null where nothing can be carried, or what it needs is not there yet. */
  readonly request: DrillRequest | null;
  /** Further characters in the same motion. */
  readonly others: readonly CharacterView[];
  /** Whether the character has the hips that everything is carried by. */
  readonly isHumanoid: boolean;
}

/** What is to be carried, to whom: everything that the result hangs on. */
export function useDrillRequest(
  chosen: ChosenMotion | null,
  shelf: Shelf,
  otherIds: readonly string[],
  preview: Layer | null,
): DrillSubject {
  const { character, definition, fit } = useCharacter();
  const list = useMemo(() => shelf.list?.motions ?? [], [shelf.list]);
  const needed = useMemo(() => (chosen?.kind === 'shelf' ? withAppended(chosen.motion, list) : []), [chosen, list]);
  const known = useCharacters(
    [...needed.flatMap(charactersOf), ...otherIds],
    definition.id,
    needed.map(({ id, revision }) => `${id} ${revision}`).join(),
  );
  const isHumanoid = character.match.creature.isHumanoid || fit.state.assignments.hips !== undefined;
  const mostFrames = shelf.list?.mostFrames ?? MOST_FRAMES;
  const others = useMemo(() => otherIds.flatMap((id) => known.get(id) ?? []), [otherIds, known]);
  const request = useMemo<DrillRequest | null>(() => {
    if (!chosen || !isHumanoid || !fit.state.assignments.hips) return null;
    const motionId = addressOf(chosen);
    const stamp = [
      motionId,
      definition.id,
      character.modelHash,
      fit.revision,
      ...others.map((each) => `${each.id} ${each.fit.revision}`),
    ];
    if (chosen.kind === 'own') {
      const { source, asItIs } = ownSource(character, definition, fit, chosen.clip, mostFrames);
      const targets = [
        asItIs,
        ...others.map((each) => targetOf(each, each.definition, each.fit, NO_ROOT_TRAVEL, null)),
      ];
      return { key: JSON.stringify(stamp), motionId, source, targets };
    }
    const travel = chosen.kind === 'shelf' ? chosen.motion.travel : NO_ROOT_TRAVEL;
    const source =
      chosen.kind === 'house'
        ? houseSource(chosen.house, definition, mostFrames)
        : shelfSource(chosen.motion, chosen.house, { list, known, definition, mostFrames });
    if (!source) return null;
    const sources = needed.flatMap((each) => [
      each.id,
      each.revision,
      ...charactersOf(each).map((id) => `${known.get(id)?.modelHash} ${known.get(id)?.fit.revision}`),
    ]);
    const own = targetOf(character, definition, fit, travel, motionId);
    return {
      motionId,
      key: JSON.stringify([...stamp, ...sources, chosen.house, preview]),
      source,
      targets: [
        preview ? { ...own, carrying: withLayer(own.carrying, preview) } : own,
        ...others.map((each) => targetOf(each, each.definition, each.fit, travel, motionId)),
      ],
    };
  }, [chosen, isHumanoid, others, needed, list, known, definition, character, fit, mostFrames, preview]);
  return { request, others, isHumanoid };
}
