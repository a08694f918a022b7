import type { LiveInput } from '@/core/live/live-walker';

/** Speeds that a key asks for, metres a second; turn, radians a second. */
const WALK = 1.3;
const RUN = 3.2;
const BACK = 0.8;
const ASIDE = 0.45;
const TURN = 1.6;
/** A stick that is nearer to its middle than this rests. */
const DEAD = 0.15;

export const LIVE_KEYS = [
  ['↑', 'walk; with Shift run'],
  ['↓', 'back'],
  ['← →', 'turn'],
  [', .', 'to the left, to the right'],
  ['J', 'jump'],
  ['K', 'crouch while held'],
] as const;

const HEARD = new Set(['ArrowUp', 'ArrowDown', 'ArrowLeft', 'ArrowRight', ',', '.', 'j', 'k']);
/** A key by what it means here, whatever Shift makes of it. */
export const liveKey = (key: string): string | null => {
  const plain =
    key === ';' || key === '<' ? ',' : key === ':' || key === '>' ? '.' : key.length === 1 ? key.toLowerCase() : key;
  return HEARD.has(plain) ? plain : null;
};

/** What held keys ask for. */
export function inputOfKeys(keys: ReadonlySet<string>, isShift: boolean): LiveInput {
  const has = (key: string): number => (keys.has(key) ? 1 : 0);
  return {
    side: ASIDE * (has(',') - has('.')),
    ahead: has('ArrowUp') * (isShift ? RUN : WALK) - has('ArrowDown') * BACK,
    turn: TURN * (has('ArrowLeft') - has('ArrowRight')),
    isCrouched: keys.has('k'),
    isJumping: keys.has('j'),
  };
}

/** What a gamepad asks for: left stick goes, right stick turns; the two lower buttons jump and crouch. Null at rest. */
export function inputOfPad({
  axes,
  buttons,
}: Pick<Gamepad, 'axes'> & { readonly buttons: readonly { readonly pressed: boolean }[] }): LiveInput | null {
  const stick = (at: number): number => (Math.abs(axes[at] ?? 0) < DEAD ? 0 : axes[at]);
  const [x, y, turn] = [stick(0), stick(1), stick(2)];
  const [isJumping, isCrouched] = [buttons[0]?.pressed ?? false, buttons[1]?.pressed ?? false];
  if (x === 0 && y === 0 && turn === 0 && !isJumping && !isCrouched) return null;
  return {
    // Half a stick walks, a whole one runs.
    ahead: y < 0 ? (-y < 0.5 ? -y * 2 * WALK : WALK + (-y - 0.5) * 2 * (RUN - WALK)) : -y * BACK,
    side: -x * ASIDE,
    turn: -turn * TURN,
    isCrouched,
    isJumping,
  };
}
