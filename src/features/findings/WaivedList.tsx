'use client';

import type { Finding } from '@/core/checks/finding';
import type { Waived } from '@/core/waivers/waiver';
import { useCharacter } from '../character/character-context';

/** What was accepted, by whom and why; and waivers that hold no longer. */
export function WaivedList() {
  const { fit, unwaive } = useCharacter();
  if (fit.waived.length + fit.reopened.length === 0) return null;
  const row = ({ finding, waiver }: Waived<Finding>, isOpen: boolean) => (
    <li key={`${isOpen} ${finding.key}`} className="flex items-start gap-3 border-t border-base-300 py-1.5">
      <div className="min-w-0 flex-1">
        <p>
          {isOpen && <span className="mr-1.5 text-warning">Open again</span>}
          {finding.sentence}
        </p>
        <p className="quiet">
          “{waiver.reason}” {waiver.author}, {waiver.date}
          {waiver.until ? `, until ${waiver.until}` : ''}
        </p>
      </div>
      <button
        className="btn btn-ghost btn-xs"
        disabled={fit.state.isClosed}
        onClick={() => unwaive(waiver.finding === null ? { check: waiver.check ?? '' } : { finding: waiver.finding })}
      >
        Take back
      </button>
    </li>
  );
  return (
    <section aria-label="Waived" className="mt-6 text-[13px]">
      <h2 className="text-base font-semibold">Waived</h2>
      <ul className="mt-1">
        {fit.reopened.map((each) => row(each, true))}
        {fit.waived.map((each) => row(each, false))}
      </ul>
    </section>
  );
}
