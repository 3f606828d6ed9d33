/** “1 colour”, “3 colours”; `more` where the plural is another word. */
export const counted = (many: number, what: string, more = `${what}s`) =>
  `${many} ${many === 1 ? what : more}`;
