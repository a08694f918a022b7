'use client';

import { repairText, withoutRepair, type TreeRepair } from '@/core/intake/decisions';
import { useCharacter } from '../character/character-context';
import { Block } from './parts';

/** Repairs of the tree, made on Match; each can be taken back by itself. */
export function TreeBlock() {
  const { fit, decide } = useCharacter();
  const { tree } = fit.state.intake;
  if (tree.length === 0) return null;
  return (
    <Block title="Tree" aside={`${tree.length} ${tree.length === 1 ? 'repair' : 'repairs'}`}>
      <ul className="max-h-32 overflow-auto text-[13px]">
        {tree.map((repair, at) => (
          <li key={at} className="flex items-baseline gap-2">
            <span className="min-w-0 flex-1 truncate font-mono text-[12.5px]">{repairText(repair)}</span>
            <button
              className="link link-hover"
              title={takenWith(tree, at)}
              onClick={() => decide({ tree: withoutRepair(tree, at) })}
            >
              Take back
            </button>
          </li>
        ))}
      </ul>
    </Block>
  );
}

/** What else goes with a repair; nothing where it goes alone. */
function takenWith(tree: readonly TreeRepair[], at: number): string | undefined {
  const others = tree.length - withoutRepair(tree, at).length - 1;
  return others > 0
    ? `${others === 1 ? 'A later repair of' : `${others} later repairs of`} its joint ${others === 1 ? 'goes' : 'go'} with it`
    : undefined;
}
