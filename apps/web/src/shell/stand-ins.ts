/** The simulated programs, by the address of each. */
export const STAND_INS = [
  ['/stand-ins/mail', 'mail'],
  ['/stand-ins/chat', 'chat'],
  ['/stand-ins/drive', 'drive'],
  ['/stand-ins/documents', 'documents'],
  ['/stand-ins/ledger', 'ledger'],
  ['/stand-ins/automations', 'automation builder'],
  ['/stand-ins/browser', 'browser'],
  ['/stand-ins/desktop', 'desktop'],
  ['/stand-ins/post', 'outside post office'],
] as const;
