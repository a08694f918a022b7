import { momentText } from '../text';
import type { Stop } from './layout';
import { StopMark, type StopState } from './StopMark';

const SAMPLE: Stop = { role: '', x: 9, y: 11, isRequired: true, caption: 'above', align: 'middle' };
const STATES: readonly (readonly [state: StopState, words: string])[] = [
  ['settled', 'settled'],
  ['proposed', 'proposed'],
  ['doubtful', 'in doubt'],
  ['vacant', 'vacant'],
  ['clash', 'against the tree'],
];

/** What a map on paper is of. */
export interface MapTitle {
  readonly title: string;
  readonly facts: readonly string[];
  /** When it came to be as it is. */
  readonly at: string;
}

/** What a map on paper is of, and how to read it; on the screen both stand elsewhere. */
export function PrintedHead({ title, facts, at }: MapTitle) {
  return (
    <header className="hidden items-end justify-between gap-6 pb-6 print:flex">
      <div>
        <h2 className="text-2xl font-semibold">{title}</h2>
        <p>
          {facts.join(' · ')} ·{' '}
          <time dateTime={at} suppressHydrationWarning>
            {momentText(at)}
          </time>
        </p>
      </div>
      <ul className="flex gap-4">
        {STATES.map(([state, words]) => (
          <li key={state} className="flex items-center gap-1">
            <svg width={18} height={22} aria-hidden>
              <StopMark stop={SAMPLE} state={state} isSelected={false} isHovered={false} />
            </svg>
            {words}
          </li>
        ))}
      </ul>
    </header>
  );
}
