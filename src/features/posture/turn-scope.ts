import { digitRoles, DIGITS, mirrorRole, sideOfRole, type Definition } from '@/core/definition/definition';

/** How much goes along with the role that is picked. */
export const TURN_SCOPES = ['role', 'line', 'fingers', 'digits'] as const;
export type TurnScope = (typeof TURN_SCOPES)[number];

export const SCOPE_TEXT: Readonly<Record<TurnScope, string>> = {
  role: 'this role',
  line: 'its whole line',
  fingers: 'all fingers of the hand',
  digits: 'fingers and thumb',
};

/** Roles that a turn takes along: of those that have a bone, on one side or on both. */
export function rolesToTurn(
  definition: Definition,
  role: string,
  scope: TurnScope,
  isBothSides: boolean,
  isMapped: (role: string) => boolean,
): string[] {
  const side = sideOfRole(definition, role);
  const line = definition.lines.find(({ roles }) => roles.includes(role));
  const digits = DIGITS.filter((digit) => scope === 'digits' || digit !== 'Thumb');
  const chosen =
    scope === 'role'
      ? [role]
      : scope === 'line'
        ? (line?.roles ?? [role])
        : side
          ? digits.flatMap((digit) => digitRoles(side, digit))
          : [];
  const all = isBothSides ? chosen.flatMap((each) => [each, mirrorRole(definition, each)]) : chosen;
  return [...new Set(all)].filter(isMapped);
}
