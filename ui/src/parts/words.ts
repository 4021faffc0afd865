/** Words as sentences begin. */
export function capital(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** A number of things in words. */
export const counted = (count: number, word: string) => `${count} ${word}${count === 1 ? "" : "s"}`;
