/** Sentence for a passkey request that the browser ended without an answer. */
export const PASSKEY_NOT_USED =
  'Your device did not confirm a passkey. The request was cancelled or timed out, or the device has no passkey for this workbench. Nothing was changed.';
