'use client';

import { X } from 'lucide-react';
import { HOUSE_SET } from '@/core/house/house-set';
import { useCharacter } from '../character/character-context';
import { houseMotionId } from '../drill/chosen-motion';
import { useShelf } from '../drill/use-shelf';

/** Motions that go into the pack: clips for its skeleton, each a file of its own. */
export function PackMotions() {
  const { fit, act } = useCharacter();
  const shelf = useShelf();
  const { packMotions } = fit.state;
  const house = HOUSE_SET.map(({ id, label }) => ({ key: houseMotionId(id), name: label }));
  const shelved = (shelf.list?.motions ?? []).map(({ id, name }) => ({ key: id, name }));
  const nameOf = (key: string) =>
    [...shelved, ...house].find((each) => each.key === key)?.name ??
    (shelf.list === null ? '…' : 'no longer on the shelf');
  const set = (motions: readonly string[]) => act({ kind: 'set-pack-motions', motions: [...motions] });
  const free = (list: readonly { key: string; name: string }[]) => list.filter(({ key }) => !packMotions.includes(key));
  return (
    <section aria-label="Motions of the pack" className="mt-4 text-[13px]">
      <h3 className="font-semibold">
        Motions{' '}
        <span className="quiet font-normal">
          {packMotions.length === 0
            ? 'none; the pack holds the character alone'
            : 'each a GLB of the skeleton with one clip'}
        </span>
      </h3>
      <ul className="mt-1 flex flex-wrap gap-1.5">
        {packMotions.map((key) => (
          <li
            key={key}
            className="flex items-center gap-1 rounded-field border border-base-300 bg-base-100 py-0.5 pl-2"
          >
            {nameOf(key)}
            <button
              className="btn btn-square btn-ghost btn-xs"
              aria-label={`Take ${nameOf(key)} out of the pack`}
              disabled={fit.state.isClosed}
              onClick={() => set(packMotions.filter((each) => each !== key))}
            >
              <X aria-hidden className="size-3.5" />
            </button>
          </li>
        ))}
      </ul>
      <select
        aria-label="Put a motion into the pack"
        className="select mt-1.5 w-72 select-xs"
        value=""
        disabled={fit.state.isClosed}
        onChange={(event) => set([...packMotions, event.target.value])}
      >
        <option value="">Put a motion into the pack …</option>
        <optgroup label="On the shelf">
          {free(shelved).map(({ key, name }) => (
            <option key={key} value={key}>
              {name}
            </option>
          ))}
        </optgroup>
        <optgroup label="House set">
          {free(house).map(({ key, name }) => (
            <option key={key} value={key}>
              {name}
            </option>
          ))}
        </optgroup>
      </select>
    </section>
  );
}
