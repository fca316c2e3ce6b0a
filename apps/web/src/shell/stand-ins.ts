/** The simulated programs, by the address of each. */
export const STAND_INS = [
  ['/stand-ins/mail', 'the mail window'],
  ['/stand-ins/chat', 'chat'],
  ['/stand-ins/drive', 'drive'],
  ['/stand-ins/documents', 'documents'],
  ['/stand-ins/browser', 'browser'],
  ['/stand-ins/desktop', 'desktop'],
  ['/stand-ins/post', 'post office outside'],
] as const;
