import { MAX_ATTACHMENTS } from '@lantern/contracts';
import { MAX_FILE_BYTES } from '@lantern/files';
import { FilesInterceptor } from '@nestjs/platform-express';

/** Files of a form, within the limits of one movement. */
export const formFiles = () =>
  FilesInterceptor('files', MAX_ATTACHMENTS, {
    limits: { fileSize: MAX_FILE_BYTES, files: MAX_ATTACHMENTS, fieldSize: MAX_FIELD_BYTES },
  });

/** Longest text in a form: a body of a million units with room for its encoding. */
const MAX_FIELD_BYTES = 8 * 1024 * 1024;

/** Files of a form, by the names they were given. */
export function namedFiles(files: readonly Express.Multer.File[]): { name: string; bytes: Uint8Array }[] {
  return files.map((file) => ({ name: fileName(file), bytes: file.buffer }));
}

/** The name under which a file was uploaded. Browsers send UTF-8, which the form reader takes for Latin-1. */
export function fileName(file: { readonly originalname: string }): string {
  const bytes = Buffer.from(file.originalname, 'latin1');
  const decoded = bytes.toString('utf8');
  return (decoded.includes('\ufffd') ? file.originalname : decoded).slice(0, 255);
}
