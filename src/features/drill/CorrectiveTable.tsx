'use client';

import { X } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { z } from 'zod';
import type { Definition } from '@/core/definition/definition';
import { decodeGeometry } from '@/core/geometry/geometry';
import { morphNamesByNode } from '@/core/geometry/morph-names';
import { CorrectiveSchema, type Corrective } from '@/core/motion/carry-options';
import { TURN_AXES, type TurnAxis } from '@/core/posture/turn-roles';
import { slugOf } from '@/core/text/slug';
import { download } from '@/ui/download';
import { NumberField } from '@/ui/NumberField';
import { newId } from '@/ui/new-id';
import { useCharacter } from '../character/character-context';
import { AXIS_TEXT } from './axis-text';

interface CorrectiveTableProps {
  readonly correctives: readonly Corrective[];
  readonly roles: Definition['roles'];
  readonly onChange: (correctives: Corrective[]) => void;
}

const FileSchema = z.strictObject({
  schema: z.literal('yarvo-correctives-1'),
  correctives: z.array(CorrectiveSchema).max(200),
});

/** Morph targets that follow joints: which turn of which role brings which of them, and how far. */
export function CorrectiveTable({ correctives, roles, onChange }: CorrectiveTableProps) {
  const { character } = useCharacter();
  const names = useMorphNames(character.id, character.modelHash, character.rig.mesh.morphTargetCount > 0);
  const [problem, setProblem] = useState('');
  const picker = useRef<HTMLInputElement>(null);
  const change = (id: string, patch: Partial<Corrective>) =>
    onChange(correctives.map((each) => (each.id === id ? { ...each, ...patch } : each)));
  const labelOf = (role: string) => roles.find(({ id }) => id === role)?.label ?? role;

  async function take(file: File) {
    try {
      const read = FileSchema.parse(JSON.parse(await file.text()));
      setProblem('');
      onChange([...read.correctives]);
    } catch {
      setProblem(`${file.name} is no table of correctives (yarvo-correctives-1); nothing was changed.`);
    }
  }

  return (
    <section aria-label="Morphs that follow joints">
      <div className="mt-1.5 flex items-baseline gap-2">
        <h3 className="flex-1 font-semibold">
          Morphs that follow joints{' '}
          <span className="quiet font-normal">{correctives.filter(({ isOn }) => isOn).length} on</span>
        </h3>
        {correctives.length > 0 && (
          <button
            className="btn btn-ghost btn-xs"
            onClick={() =>
              download(
                JSON.stringify({ schema: 'yarvo-correctives-1', correctives }, null, 2),
                `${slugOf(character.name)}-correctives.json`,
                'application/json',
              )
            }
          >
            Export
          </button>
        )}
        <button className="btn btn-ghost btn-xs" onClick={() => picker.current?.click()}>
          Import
        </button>
        <input
          ref={picker}
          type="file"
          hidden
          accept=".json"
          aria-label="Table of correctives"
          onChange={(event) => {
            const [file] = event.target.files ?? [];
            if (file) void take(file);
            event.target.value = '';
          }}
        />
      </div>
      {problem && (
        <p role="alert" className="text-error">
          {problem}
        </p>
      )}
      {names !== null && names.length === 0 && correctives.length === 0 ? (
        <p className="quiet">This character has no morph targets.</p>
      ) : (
        <>
          <ul className="grid gap-1.5">
            {correctives.map((each) => (
              <li key={each.id} className="grid gap-1 rounded-field bg-base-200 px-1.5 py-1">
                <div className="flex items-center gap-1">
                  <input
                    type="checkbox"
                    aria-label={`${each.morph || 'morph'} on`}
                    className="checkbox checkbox-xs"
                    checked={each.isOn}
                    onChange={(event) => change(each.id, { isOn: event.target.checked })}
                  />
                  <span className="min-w-0 flex-1 truncate">{labelOf(each.role)}</span>
                  <select
                    aria-label={`${labelOf(each.role)}: which turn`}
                    className="select w-22 select-xs"
                    value={each.about}
                    onChange={(event) => change(each.id, { about: event.target.value as TurnAxis })}
                  >
                    {TURN_AXES.map((axis) => (
                      <option key={axis} value={axis}>
                        {AXIS_TEXT[axis]}
                      </option>
                    ))}
                  </select>
                  <button
                    className="btn btn-square btn-ghost btn-xs"
                    aria-label={`Take ${each.morph} out`}
                    onClick={() => onChange(correctives.filter(({ id }) => id !== each.id))}
                  >
                    <X aria-hidden className="size-3.5" />
                  </button>
                </div>
                <div className="flex items-center gap-1">
                  {(['from', 'to'] as const).map((end) => (
                    <label key={end} className="flex items-center gap-1">
                      <span className="quiet">{end}</span>
                      <NumberField
                        className="w-14 px-1"
                        min={-180}
                        max={180}
                        value={each[`${end}Deg`]}
                        onChange={(degrees) => change(each.id, { [`${end}Deg`]: degrees })}
                      />
                    </label>
                  ))}
                  <select
                    aria-label="Morph target"
                    className="select min-w-0 flex-1 select-xs"
                    value={each.morph}
                    onChange={(event) => change(each.id, { morph: event.target.value })}
                  >
                    {[...new Set([each.morph, ...(names ?? [])])].map((name) => (
                      <option key={name} value={name}>
                        {name}
                        {names && !names.includes(name) ? ' (not in this mesh)' : ''}
                      </option>
                    ))}
                  </select>
                  <NumberField
                    label="Weight"
                    className="w-14 px-1"
                    min={0}
                    max={1}
                    step={0.05}
                    value={each.weight}
                    onChange={(weight) => change(each.id, { weight })}
                  />
                </div>
              </li>
            ))}
          </ul>
          <select
            aria-label="Let a morph follow a role"
            className="select mt-1 w-full select-xs"
            value=""
            disabled={names === null || names.length === 0}
            onChange={(event) =>
              onChange([
                ...correctives,
                {
                  id: newId(),
                  role: event.target.value,
                  about: 'hinge',
                  fromDeg: 0,
                  toDeg: 90,
                  morph: names?.[0] ?? '',
                  weight: 1,
                  isOn: true,
                },
              ])
            }
          >
            <option value="">Let a morph follow a role …</option>
            {roles.map(({ id, label }) => (
              <option key={id} value={id}>
                {label}
              </option>
            ))}
          </select>
        </>
      )}
    </section>
  );
}

/** Names of a character's morph targets; null until they were fetched. */
function useMorphNames(characterId: string, modelHash: string, hasAny: boolean): readonly string[] | null {
  const [names, setNames] = useState<readonly string[] | null>(hasAny ? null : []);
  useEffect(() => {
    if (!hasAny) return;
    let isGone = false;
    void fetch(`/api/characters/${characterId}/geometry?of=${modelHash}`)
      .then((response) => (response.ok ? response.arrayBuffer() : Promise.reject(new Error(String(response.status)))))
      .then((bytes) => morphNamesByNode(decodeGeometry(new Uint8Array(bytes))))
      .then(
        (byNode) => !isGone && setNames([...new Set([...byNode.values()].flat())]),
        () => !isGone && setNames([]),
      );
    return () => {
      isGone = true;
    };
  }, [characterId, modelHash, hasAny]);
  return names;
}
