/** A pattern for LIKE that finds a text as written, wherever it stands: `%`, `_` and backslashes mean themselves. */
export const likeAnywhere = (text: string): string => `%${likeText(text)}%`;

/** A text that LIKE takes as written. */
export const likeText = (text: string): string => text.replaceAll(/[\\%_]/gu, String.raw`\$&`);
