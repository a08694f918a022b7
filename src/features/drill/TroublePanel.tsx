'use client';

import { useEffect, useState } from 'react';
import { drillLimitsOf } from '@/core/profile/profile';
import type { FoundTroubles } from '@/workers/browser/drill.worker';
import { useCharacter } from '../character/character-context';
import type { Player } from './player';
import type { Carried } from './use-carried';
import { writeDrill } from './use-drill-address';

/** What the character does wrong in the motion, worst first; each leads to its frame. */
export function TroublePanel({ carried, player }: { readonly carried: Carried; readonly player: Player }) {
  const { character, definition, profile } = useCharacter();
  const [held, setHeld] = useState<{ readonly key: string; readonly found: FoundTroubles | null } | null>(null);
  const { key } = carried;
  const geometryUrl =
    character.rig.mesh.vertexCount > 0
      ? `/api/characters/${character.id}/geometry?definition=${definition.id}&of=${character.modelHash}`
      : null;
  useEffect(() => {
    let isGone = false;
    const timer = setTimeout(() => {
      carried.judge(geometryUrl, drillLimitsOf(profile)).then(
        (found) => !isGone && setHeld({ key, found }),
        () => !isGone && setHeld({ key, found: null }),
      );
    }, SETTLED_MS);
    return () => {
      isGone = true;
      clearTimeout(timer);
    };
  }, [carried, key, geometryUrl, profile]);
  const isCurrent = held?.key === key;
  const flags = held?.found?.flags ?? [];
  return (
    <section aria-label="Troubles" className="border-t border-base-300 px-4 py-2 text-[13px]">
      <h2 className="text-sm font-semibold">
        Troubles{' '}
        <span className="quiet font-normal" role="status">
          {!isCurrent
            ? 'measuring …'
            : held.found === null
              ? 'could not be measured'
              : flags.length === 0
                ? 'none: soles, slides, knees, elbows, twists and jumps within their limits'
                : `${flags.length}, worst first`}
        </span>
      </h2>
      {isCurrent && flags.length > 0 && (
        <ol className="mt-1 grid max-h-40 gap-1 overflow-auto">
          {flags.slice(0, MOST_SHOWN).map((flag) => (
            <li key={`${flag.measure} ${flag.fromFrame}`}>
              <button
                className="w-full rounded-field px-1 py-0.5 text-left hover:bg-base-200"
                title={`Frames ${flag.fromFrame} to ${flag.toFrame}`}
                onClick={() => {
                  player.pause();
                  player.seek(flag.worstFrame);
                  writeDrill({ frame: flag.worstFrame });
                }}
              >
                {flag.sentence}
              </button>
            </li>
          ))}
        </ol>
      )}
      {isCurrent &&
        held.found?.remarks.map((remark) => (
          <p key={remark} className="quiet">
            {remark}
          </p>
        ))}
    </section>
  );
}

/** While a slider is moved nothing is judged. */
const SETTLED_MS = 400;

/** A list that nobody reads to its end; the rest comes up when these are mended. */
const MOST_SHOWN = 30;
