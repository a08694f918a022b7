'use client';

import { countText } from '@/core/text/count';
import type { DrillFlag } from '@/core/drill/judge/judge-motion';
import type { JudgedState } from './use-judged';

interface TroublePanelProps {
  readonly state: JudgedState;
  readonly chosen: DrillFlag | null;
  readonly onChoose: (flag: DrillFlag) => void;
}

/** What the character does wrong in the motion, worst first; each leads to its frame. */
export function TroublePanel({ state: { judged, isOld, hasFailed }, chosen, onChoose }: TroublePanelProps) {
  const flags = judged?.flags ?? [];
  return (
    <section aria-label="Troubles" className="px-4 py-2 text-[13px]">
      <h2 className="text-sm font-semibold">
        Troubles{' '}
        <span className="quiet font-normal" role="status">
          {isOld
            ? 'measuring …'
            : hasFailed
              ? 'could not be measured'
              : flags.length === 0
                ? 'none: all that is measured stays within its limits'
                : `${countText(flags.length, 'flag')}, worst first`}
        </span>
      </h2>
      {!isOld && flags.length > 0 && (
        <ol className="mt-1 max-h-80 overflow-auto">
          {flags.slice(0, MOST_SHOWN).map((flag) => (
            <li key={`${flag.measure} ${flag.fromFrame}`}>
              <button
                className={`flex w-full gap-2 rounded-field px-1 py-0.5 text-left ${flag === chosen ? 'bg-(--accent-wash) font-semibold' : 'hover:bg-base-200'}`}
                title={flag.sentence}
                onClick={() => onChoose(flag)}
              >
                <span className="min-w-0 flex-1 truncate first-letter:uppercase">{flag.subject}</span>
                <span className="quiet shrink-0 tabular-nums">{flag.worstFrame}</span>
              </button>
            </li>
          ))}
        </ol>
      )}
      {!isOld &&
        judged?.remarks.map((remark) => (
          <p key={remark} className="quiet">
            {remark}
          </p>
        ))}
    </section>
  );
}

/** A list that nobody reads to its end; the rest comes up when these are mended. */
const MOST_SHOWN = 60;
