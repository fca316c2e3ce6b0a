/** What stands behind these opens a door: links of shares, of invitations, and of questions to people. */
const BEFORE_TOKENS = new Set(['links', 'welcome', 'questions', 'question']);

/** The path of a request as it may stand in a log: no query, no address, no token that opens something. */
export function safePath(url: string): string {
  return (url.split('?')[0] ?? '')
    .split('/')
    .map((step, index, steps) => {
      if (BEFORE_TOKENS.has(steps[index - 1] ?? '')) return ':token';
      return step.includes('@') || /%40/i.test(step) ? ':address' : step;
    })
    .join('/')
    .slice(0, 300);
}
