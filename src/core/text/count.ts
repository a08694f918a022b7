/** "1 motion", "3 motions". */
export const countText = (count: number, what: string): string => `${count} ${what}${count === 1 ? '' : 's'}`;
