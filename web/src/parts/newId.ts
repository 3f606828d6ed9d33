/** A name for something new, made here so that what is sent twice counts once. */
export const newId = () => crypto.randomUUID().slice(0, 13);
