/** What a key does, as a person reads it. */
interface KeyEntry {
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
    { keys: ['Ctrl', 'K'], text: 'Find a role, bone, character or action' },
    { keys: ['Ctrl', 'Z'], text: 'Undo' },
    { keys: ['Ctrl', 'Shift', 'Z'], text: 'Redo' },
    { keys: ['Ctrl', 'Y'], text: 'Redo' },
    { keys: ['?'], text: 'This list' },
  ],
};

const STAGE: KeyGroup = {
  title: 'Stage',
  entries: [
    {
      keys: ['click'],
      text: 'Pick the joint or rod under the pointer, through the mesh; a list where several overlap',
    },
    { keys: ['drag'], text: 'Move the view; turn the free view' },
    { keys: ['Shift', 'drag'], text: 'Move the free view' },
    { keys: ['wheel'], text: 'Zoom in and out' },
  ],
};

/** Keys by screen; what a screen does not list works nowhere on it. */
export const KEYS: Readonly<
  Record<'intake' | 'match' | 'posture' | 'drill' | 'findings' | 'handoff', readonly KeyGroup[]>
> = {
  intake: [EVERYWHERE, STAGE],
  match: [
    {
      title: 'Match',
      entries: [
        { keys: ['R'], text: 'Review the doubts, or everything once there are none' },
        { keys: ['Shift', 'R'], text: 'Review all roles that are not settled' },
        { keys: ['N'], text: 'Next role that is not settled' },
        { keys: ['A'], text: 'Accept the bone of the role in focus' },
        { keys: ['E'], text: 'Explain the role in focus: this bone against the next best' },
        { keys: ['Delete'], text: 'Clear the role in focus' },
        { keys: ['1', '2'], text: 'Where left and right are in question: take the first or the second reading' },
        { keys: ['Esc'], text: 'Clear the selection' },
      ],
    },
    {
      title: 'Review',
      entries: [
        { keys: ['Enter'], text: 'Accept the candidate and go on' },
        { keys: ['↓', '↑'], text: 'Next best, previous' },
        { keys: ['→', '←'], text: "Into the candidate's children, out again" },
        { keys: ['/'], text: 'Find the bone by part of its name' },
        { keys: ['V'], text: 'Leave the role vacant' },
        { keys: ['S'], text: 'Skip' },
        { keys: ['Backspace'], text: 'Back to the previous role' },
        { keys: ['Esc'], text: 'End the review' },
      ],
    },
    {
      title: 'Line map and ledger',
      entries: [
        { keys: ['← → ↑ ↓'], text: 'To the next stop, or the next bone' },
        { keys: ['Enter'], text: 'Select the stop or bone in focus' },
        { keys: ['Space'], text: 'Select the stop or bone in focus' },
        { keys: ['drag'], text: 'A bone onto a stop, or a stop onto another one: they exchange their bones' },
        { keys: ['Ctrl', 'click'], text: 'Mark several bones of the ledger, for their kind, a line or the tree' },
        { keys: ['Shift', 'click'], text: 'Mark all bones up to there' },
      ],
    },
    STAGE,
    EVERYWHERE,
  ],
  posture: [
    {
      title: 'Posture',
      entries: [
        { keys: ['←', '→'], text: 'Turn what is picked by a step; held for more, it is one change' },
        { keys: ['M'], text: 'Mirror what is picked to the other side' },
        { keys: ['drag'], text: 'The tab on an arc: turn by steps; one change when it is let go' },
        { keys: ['Shift', 'drag'], text: 'The same between the steps' },
        { keys: ['Ctrl', 'click'], text: 'Pick a role or bone along with the others' },
      ],
    },
    STAGE,
    EVERYWHERE,
  ],
  drill: [
    {
      title: 'Drill',
      entries: [
        { keys: ['Space'], text: 'Play, pause' },
        { keys: ['←', '→'], text: 'Back a frame, on a frame' },
        { keys: ['Shift', '← →'], text: 'By ten frames' },
        { keys: ['Home', 'End'], text: 'First frame, last frame of what plays' },
        { keys: ['[', ']'], text: 'Play from this frame, play up to this frame' },
        { keys: ['L'], text: 'Loop, or stop at the end' },
        { keys: ['F'], text: 'Next flag' },
        { keys: ['Shift', 'F'], text: 'Flag before' },
      ],
    },
    {
      title: 'Steering',
      entries: [
        { keys: ['↑', '↓'], text: 'Walk, go back' },
        { keys: ['Shift', '↑'], text: 'Run' },
        { keys: ['←', '→'], text: 'Turn' },
        { keys: [',', '.'], text: 'To the left, to the right' },
        { keys: ['J', 'K'], text: 'Jump; crouch while held' },
      ],
    },
    {
      title: 'Contacts',
      entries: [
        { keys: ['drag'], text: 'An end of a span, or a new span where there is none' },
        { keys: ['double-click'], text: 'Take a span away' },
      ],
    },
    STAGE,
    EVERYWHERE,
  ],
  findings: [EVERYWHERE, STAGE],
  handoff: [EVERYWHERE],
};
