/** The name under which a file was uploaded. Browsers send UTF-8, which the form reader takes for Latin-1. */
export function fileName(file: { readonly originalname: string }): string {
  const bytes = Buffer.from(file.originalname, 'latin1');
  const decoded = bytes.toString('utf8');
  return (decoded.includes('\ufffd') ? file.originalname : decoded).slice(0, 255);
}
