'use client';

import { roleOf } from '@/core/definition/definition';
import { candidatesFor } from '@/core/fit/review';
import { PROPOSED_THRESHOLD } from '@/core/match/verdict/confidence';
import { confidenceBy, EVIDENCE_KINDS, explainInWords } from '@/core/match/explain';
import { ConfidenceBar } from '@/ui/ConfidenceBar';
import { capitalised, percentText } from '@/ui/text';
import { useCharacter } from '../character/character-context';
import { useExplanation } from './use-explanation';

/** Why this bone and not the runner-up: all evidence together, then each kind alone. */
export function ExplainStrip({ role, onClose }: { role: string; onClose: () => void }) {
  const { character, definition, fit } = useCharacter();
  const explanation = useExplanation(true);
  const candidates = candidatesFor(role, fit.state, character.match).slice(0, 3);
  const name = (bone: number) => character.rig.bones[bone].name;
  const [first] = candidates;
  return (
    <section
      aria-label="Explanation"
      className="max-h-[172px] overflow-auto border-y border-primary/40 bg-base-100 px-4 py-2"
    >
      <div className="flex items-baseline gap-3">
        <h2 className="text-base font-semibold">
          {roleOf(definition, role).label}:{' '}
          {first ? (
            <>
              why <span className="font-mono text-[14px]">{name(first.boneIndex)}</span>
            </>
          ) : (
            'no bone was found'
          )}
        </h2>
        <button className="btn ml-auto btn-ghost btn-xs" onClick={onClose}>
          Close
        </button>
      </div>
      {first && explanation !== null && explanation !== 'failed' && (
        <p className="text-[13px]">{explainInWords(explanation, role, first.boneIndex, name)}</p>
      )}
      {explanation === null && (
        <p role="status" className="quiet text-[13px]">
          Weighing each kind of evidence by itself …
        </p>
      )}
      {explanation === 'failed' && (
        <p role="alert" className="text-[13px] text-error">
          The evidence could not be weighed here. Reload the page and try again.
        </p>
      )}
      <table className="mt-1 w-full text-[13px]">
        <thead>
          <tr className="quiet text-left">
            <th scope="col" className="font-normal">
              Bone
            </th>
            <th scope="col" className="font-normal">
              Together
            </th>
            {EVIDENCE_KINDS.map((kind) => (
              <th key={kind} scope="col" className="font-normal">
                {capitalised(kind)} alone
              </th>
            ))}
            <th scope="col" className="font-normal">
              Evidence
            </th>
          </tr>
        </thead>
        <tbody>
          {candidates.map(({ boneIndex, confidence, evidence }) => (
            <tr key={boneIndex}>
              <th scope="row" className="max-w-40 truncate pr-3 text-left font-mono font-semibold">
                {name(boneIndex)}
              </th>
              <td className="w-28">
                <Share value={confidence ?? 0} />
              </td>
              {EVIDENCE_KINDS.map((kind) => (
                <td key={kind} className="w-28">
                  {explanation !== null && explanation !== 'failed' && (
                    <Share value={confidenceBy(explanation, kind, role, boneIndex)} />
                  )}
                </td>
              ))}
              <td className="quiet max-w-80 truncate" title={evidence.join(' · ')}>
                {evidence.join(' · ')}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

const Share = ({ value }: { value: number }) => (
  <span className="flex items-center gap-2">
    <ConfidenceBar value={value} isDoubtful={value < PROPOSED_THRESHOLD} width={48} />
    <span className="tabular-nums">{percentText(value)}</span>
  </span>
);
