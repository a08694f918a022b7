/** A text as it stands for itself in a LIKE pattern. */
export const likeText = (text: string): string => text.replace(/[\\%_]/g, (letter) => `\\${letter}`);
