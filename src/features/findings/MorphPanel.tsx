'use client';

import { useMemo } from 'react';
import { mapMorphs } from '@/core/morphs/map-morphs';
import { leastReach, morphReaches } from '@/core/rig/morph-reach';
import { countText } from '@/core/text/count';
import { useCharacter } from '../character/character-context';
import type { MorphPreview } from './use-morph-preview';

/** Morph targets: which stands for which that the engine drives, and a slider for each of the figure's own. */
export function MorphPanel({ preview }: { readonly preview: MorphPreview }) {
  const { character, fit, profile, act } = useCharacter();
  const { rig, normalisation } = character;
  const reaches = useMemo(() => morphReaches(rig.facts), [rig]);
  const own = [...reaches.keys()];
  if (own.length === 0 && profile.morphs.length === 0) return null;
  const mapped = mapMorphs(own, profile.morphs, fit.state.morphs);
  const byWanted = new Map(mapped.map((match) => [match.wanted, match]));
  const stands = new Map(mapped.map((match) => [match.own, match.wanted]));
  const isShut = fit.state.isClosed;
  const slider = (name: string) => (
    <input
      type="range"
      aria-label={`Weight of ${name}`}
      className="range w-28 range-xs"
      min={0}
      max={1}
      step={0.05}
      value={preview.weights.get(name) ?? 0}
      onChange={(event) => preview.show(name, Number(event.target.value))}
    />
  );
  const isStill = (name: string): boolean => (reaches.get(name) ?? 0) <= leastReach(normalisation.heightFile);
  const others = own.filter((name) => !stands.has(name));
  return (
    <section aria-label="Morph targets" className="mt-5 text-[13px]">
      <div className="flex items-baseline gap-2">
        <h2 className="font-semibold">
          Morph targets{' '}
          <span className="quiet font-normal">
            {countText(own.length, 'target')}
            {profile.morphs.length > 0 && `, ${mapped.length} of ${profile.morphs.length} that ${profile.label} drives`}
          </span>
        </h2>
        {preview.weights.size > 0 && (
          <button className="btn ml-auto btn-ghost btn-xs" onClick={preview.rest}>
            Rest
          </button>
        )}
      </div>
      {profile.morphs.length > 0 && (
        <table className="table mt-1 table-xs">
          <thead>
            <tr>
              <th>The engine drives</th>
              <th>Stands for it</th>
              <th>Why</th>
              <th>Try</th>
            </tr>
          </thead>
          <tbody>
            {profile.morphs.map((wanted) => {
              const match = byWanted.get(wanted);
              return (
                <tr key={wanted}>
                  <td className="font-mono">{wanted}</td>
                  <td>
                    <select
                      aria-label={`Stands for ${wanted}`}
                      className="select w-40 select-xs"
                      disabled={isShut}
                      value={match?.own ?? ''}
                      onChange={(event) => act({ kind: 'set-morph', wanted, own: event.target.value || null })}
                    >
                      <option value="">none</option>
                      {own.map((name) => (
                        <option key={name} value={name}>
                          {name}
                        </option>
                      ))}
                    </select>
                  </td>
                  <td className="quiet">
                    {match
                      ? evidenceText(match)
                      : fit.state.morphs[wanted] === null
                        ? 'left vacant'
                        : 'no name is like it'}
                    {match && isStill(match.own) && <span className="ml-1 text-warning">moves nothing</span>}
                    {fit.state.morphs[wanted] !== undefined && (
                      <button
                        className="btn ml-1 btn-ghost btn-xs"
                        disabled={isShut}
                        aria-label={`Let the names say what stands for ${wanted}`}
                        onClick={() => act({ kind: 'set-morph', wanted })}
                      >
                        by name
                      </button>
                    )}
                  </td>
                  <td>{match && slider(match.own)}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
      {others.length > 0 && (
        <ul aria-label="Targets of its own" className="mt-2 grid grid-cols-2 gap-x-6 gap-y-1">
          {others.map((name) => (
            <li key={name} className="flex items-center gap-2">
              <span className="min-w-0 flex-1 truncate font-mono text-xs" title={name}>
                {name}
                {isStill(name) && <span className="ml-1 text-warning">moves nothing</span>}
              </span>
              {slider(name)}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

const evidenceText = ({ evidence, confidence, origin }: ReturnType<typeof mapMorphs>[number]): string =>
  origin === 'person' || confidence === 1 ? evidence : `${evidence} (${Math.round(confidence * 100)} %)`;
