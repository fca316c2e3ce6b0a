/** What a person reads when the browser gave up on a passkey. */
export const PASSKEY_NOT_USED =
  'The device gave no passkey: it was cancelled, took too long, or has none for this workbench. Nothing was changed.';
