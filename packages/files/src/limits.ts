/** Largest single file or mail that is opened: above the 25 MiB that mail gateways commonly accept, a mail is not delivered anyway. */
export const MAX_FILE_BYTES = 25 * 1024 * 1024;
/** Most bytes that one item may expand to over all its nested parts: four times the largest file; some five seconds of work. */
export const MAX_EXPANDED_BYTES = 100 * 1024 * 1024;
/** Archives and mails inside each other; honest ones rarely go beyond three. */
export const MAX_NESTING_DEPTH = 8;
/** Most files inside one item; more is a dump, and its listing alone would fill the evidence. */
export const MAX_PARTS = 2_000;
/** Deepest markup that is followed inside an HTML body. */
export const MAX_MARKUP_DEPTH = 200;
/** Longest text of one part, in UTF-16 units: what an item may expand to at most. */
export const MAX_PART_TEXT = 60_000_000;
/** Empty cells that are put between the filled ones of one sheet, so that they stay below their headings. */
export const MAX_EMPTY_CELLS = 2_000_000;
/** Most columns a sheet row is spread over: the width of the OOXML format (ECMA-376 part 1, 18.3.1). */
export const MAX_COLUMNS = 16_384;
/** Pages that are read; a longer document is a book, and its listing alone would take longer than anybody waits. */
export const MAX_PAGES = 2_000;
