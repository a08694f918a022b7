'use client';

import { SETTLE_ABOVE, useSettleAbove } from '../character/use-settle-above';
import { useCharacter } from '../character/character-context';
import { useSelection } from '../character/use-selection';

/** Which definition, what is wrong with the figure as a whole, and what acts on all of it. */
export function MatchHeading({ onRun }: { onRun: () => void }) {
  const { character, definition, fit, act } = useCharacter();
  const [above, setAbove] = useSettleAbove();
  const sure = Object.entries(fit.state.assignments).filter(
    ([role, assignment]) =>
      assignment.state === 'proposed' && (character.match.assignments[role]?.confidence ?? 0) >= above / 100,
  );
  const hasProposals = Object.values(fit.state.assignments).some((assignment) => assignment.state === 'proposed');
  const { creature } = character.match;
  return (
    <div className="flex items-baseline gap-3 text-[13px]">
      <span className="quiet whitespace-nowrap">
        {definition.label} definition, version {definition.version}
      </span>
      {!creature.isHumanoid && (
        <span className="min-w-0 truncate text-warning" title={creature.reasons.join('; ')}>
          Not a humanoid: {creature.reasons[0]}
        </span>
      )}
      <button className="btn ml-auto btn-outline btn-primary btn-xs" onClick={onRun}>
        Review doubts
      </button>
      <MoreActions />
      {hasProposals && (
        <span className="flex items-baseline whitespace-nowrap">
          <button
            className="link font-semibold text-primary disabled:cursor-default disabled:no-underline disabled:opacity-60"
            disabled={sure.length === 0}
            onClick={() => act({ kind: 'settle-above', confidence: above / 100 })}
          >
            Settle {sure.length} at
          </button>
          <select
            aria-label="Confidence from which proposals are settled"
            className="ml-1 cursor-pointer rounded-field bg-transparent font-semibold text-primary"
            value={above}
            onChange={(event) => setAbove(Number(event.target.value))}
          >
            {SETTLE_ABOVE.map((percent) => (
              <option key={percent} value={percent}>
                {percent} % or more
              </option>
            ))}
          </select>
        </span>
      )}
    </div>
  );
}

/** Actions on a line or the whole fit, out of the way of those used all day. */
function MoreActions() {
  const { definition, act } = useCharacter();
  const { role, select } = useSelection();
  const line = definition.lines.find((candidate) => candidate.roles.includes(role ?? ''));
  const run = (value: string) => {
    if (value === 'line' && line) act({ kind: 'clear-line', line: line.id });
    if (value === 'all') act({ kind: 'clear-all' });
    if (value === 'compare') select({ compare: 'choose' });
    if (value === 'print') window.print();
    if (value === 'sides') act({ kind: 'swap-sides' });
    if (value === 'first') act({ kind: 'rematch' });
    if (value === 'left' || value === 'right') act({ kind: 'mirror', from: value });
  };
  return (
    <select
      aria-label="More actions"
      className="select w-32 select-xs"
      value=""
      onChange={(event) => run(event.target.value)}
    >
      <option value="">More …</option>
      {line && <option value="line">clear the {line.label.toLowerCase()}</option>}
      <option value="compare">Compare with another character</option>
      <option value="sides">Exchange left and right</option>
      <option value="first">Back to the first pass</option>
      <option value="all">Clear all roles</option>
      <option value="left">Copy left side to right</option>
      <option value="right">Copy right side to left</option>
      <option value="print">Print the map</option>
    </select>
  );
}
