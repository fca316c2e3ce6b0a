/** Longest name people give to a thing; it must fit a list row. */
export const MAX_NAME_LENGTH = 120;
/** Longest explanation, notice or note. */
export const MAX_TEXT_LENGTH = 4_000;
/** Largest paste of words: 100,000 words of a common length with room to spare. */
export const MAX_PASTE_LENGTH = 4_000_000;
/** RFC 5321 section 4.5.3.1.8 asks servers to take 100 recipients; ten times that is a distribution list's job. */
export const MAX_RECIPIENTS = 1_000;
/** Attachments of one mail. */
export const MAX_ATTACHMENTS = 20;
/** Longest mail body typed in the stand-in, in UTF-16 units. */
export const MAX_BODY_LENGTH = 1_000_000;
/** Rules of one policy; more cannot be read as one page. */
export const MAX_RULES = 200;
/** Words of one kind beside an own expression; a word list serves more. */
export const MAX_CONTEXT_WORDS = 500;
/** Values, words or ranges that an own expression leaves out. */
export const MAX_EXCLUSIONS = 5_000;
/** Longest text of a specimen, in UTF-16 units: a long document. */
export const MAX_SPECIMEN_LENGTH = 1_000_000;
/** Specimens of the organisation; all of them are judged while somebody types. */
export const MAX_SPECIMENS = 2_000;
/** Values that one specimen should give for one pattern. */
export const MAX_EXPECTED_VALUES = 1_000;
