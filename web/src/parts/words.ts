/** “1 colour”, “3 colours”; `more` where the plural is another word. */
export const counted = (many: number, what: string, more = `${what}s`) =>
  `${many} ${many === 1 ? what : more}`;

/** The day of a moment, as a date. */
export const onDay = (at: string) => new Date(at).toLocaleDateString("en-GB");

/** With a capital. */
export const capital = (words: string) => words.charAt(0).toUpperCase() + words.slice(1);

/** With a capital and a stop, whatever words it was told in. */
export const sentence = (words: string) => capital(words) + (/[.?!…]$/.test(words) ? "" : ".");
