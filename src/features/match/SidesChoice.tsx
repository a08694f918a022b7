'use client';

import { Key } from '@/ui/Key';
import { isPlainKey, useKeyDown } from '@/ui/use-key-down';
import { useCharacter } from '../character/character-context';
import { sidesQuestion } from './sides-choice';

/** Where left and right are in question: both readings side by side, taken with one key. */
export function SidesChoice() {
  const { character, definition, fit, decide } = useCharacter();
  const question = fit.state.isClosed ? null : sidesQuestion(character, definition, fit.state.intake);
  const take = (at: 0 | 1) => question && decide({ facing: question.readings[at].facing });
  useKeyDown((event) => {
    if (!question || !isPlainKey(event) || (event.key !== '1' && event.key !== '2')) return;
    event.preventDefault();
    take(event.key === '1' ? 0 : 1);
  });
  if (!question) return null;
  return (
    <div
      role="group"
      aria-label="Left and right"
      className="mt-1 flex flex-wrap items-center gap-x-2 gap-y-1 text-[13px]"
    >
      <span className="text-error">{question.reason}.</span>
      {question.readings.map(({ facing, part, bone }, at) => (
        <button
          key={facing}
          className="btn max-w-72 justify-start btn-outline font-normal btn-xs"
          title="Sets the front of the figure; left and right follow from it. Undo takes it back."
          onClick={() => take(at as 0 | 1)}
        >
          <Key>{String(at + 1)}</Key>
          <span className="min-w-0 truncate">
            Faces {facing}, {part} is <span className="font-mono">{bone}</span>
          </span>
        </button>
      ))}
    </div>
  );
}
