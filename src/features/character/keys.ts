/** What a key does, as a person reads it. */
export interface KeyEntry {
  readonly keys: readonly string[];
  readonly text: string;
}

export interface KeyGroup {
  readonly title: string;
  readonly entries: readonly KeyEntry[];
}

const EVERYWHERE: KeyGroup = {
  title: 'Everywhere',
  entries: [
    { keys: ['Ctrl', 'K'], text: 'find a role, bone, character or action' },
    { keys: ['Ctrl', 'Z'], text: 'undo' },
    { keys: ['Ctrl', 'Shift', 'Z'], text: 'redo' },
    { keys: ['?'], text: 'this list' },
  ],
};

const STAGE: KeyGroup = {
  title: 'Stage',
  entries: [
    { keys: ['click'], text: 'pick the joint or rod under the pointer, through the mesh; a list where several lie on one another' },
    { keys: ['drag'], text: 'move the view; in the free view turn it' },
    { keys: ['Shift', 'drag'], text: 'move the free view' },
    { keys: ['wheel'], text: 'nearer, farther' },
  ],
};

/** Keys by screen; what a screen does not list works nowhere on it. */
export const KEYS: Readonly<Record<'intake' | 'match' | 'posture' | 'findings' | 'handoff', readonly KeyGroup[]>> = {
  intake: [EVERYWHERE, STAGE],
  match: [
    {
      title: 'Match',
      entries: [
        { keys: ['R'], text: 'run through the doubts, or everything once there are none' },
        { keys: ['Shift', 'R'], text: 'run through all roles that are not settled' },
        { keys: ['N'], text: 'next role that is not settled' },
        { keys: ['A'], text: 'accept the bone of the role in focus' },
        { keys: ['E'], text: 'explain the role in focus: this bone against the next best' },
        { keys: ['Delete'], text: 'clear the role in focus' },
        { keys: ['Esc'], text: 'nothing in focus' },
      ],
    },
    {
      title: 'Run-through',
      entries: [
        { keys: ['Enter'], text: 'accept the candidate and go on' },
        { keys: ['↓', '↑'], text: 'next best, previous' },
        { keys: ['→', '←'], text: 'into the candidate\'s children, out again' },
        { keys: ['/'], text: 'find the bone by part of its name' },
        { keys: ['V'], text: 'leave the role vacant' },
        { keys: ['S'], text: 'skip' },
        { keys: ['Backspace'], text: 'back to the role before' },
        { keys: ['Esc'], text: 'end the run' },
      ],
    },
    {
      title: 'Line map and ledger',
      entries: [
        { keys: ['← → ↑ ↓'], text: 'to the next stop, or the next bone' },
        { keys: ['Enter'], text: 'take the stop or bone in focus' },
        { keys: ['drag'], text: 'a bone onto a stop, or a stop onto another one: they exchange their bones' },
        { keys: ['Ctrl', 'click'], text: 'mark several bones of the ledger, for their kind, a line or the tree' },
        { keys: ['Shift', 'click'], text: 'mark all bones up to there' },
      ],
    },
    STAGE,
    EVERYWHERE,
  ],
  posture: [EVERYWHERE, STAGE],
  findings: [EVERYWHERE, STAGE],
  handoff: [EVERYWHERE],
};
