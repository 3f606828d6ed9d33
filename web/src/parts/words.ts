/** “1 colour”, “3 colours”. */
export const counted = (many: number, what: string) => `${many} ${what}${many === 1 ? "" : "s"}`;
