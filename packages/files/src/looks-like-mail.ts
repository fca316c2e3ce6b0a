const HEADER_LINE =
  /^(?:from|to|subject|date|message-id|mime-version|return-path|received|content-type|delivered-to):/im;
/** A header block opens the file, each line a field or the fold of one (RFC 5322, 2.2). */
const HEADER_BLOCK = /^(?:From [^\r\n]*\r?\n)?(?:[!-9;-~]{1,76}:[^\r\n]*(?:\r?\n[ \t][^\r\n]*)*\r?\n){2,}/;

/** Whether bytes open like an internet message. */
export function looksLikeMail(start: string): boolean {
  const block = HEADER_BLOCK.exec(start)?.[0];
  return block !== undefined && (block.match(new RegExp(HEADER_LINE, 'gim'))?.length ?? 0) >= 2;
}
