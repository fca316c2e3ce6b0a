import { readOpenApi } from '@lantern/core/automations';
import { parse } from 'yaml';
import type { OpenApiFile } from './open-api-file';

/** Aliases that a document may expand: more is meant to expand without end. */
const MAX_ALIASES = 100;

function read(text: string): OpenApiFile {
  let document: unknown;
  try {
    // JSON first: it is what large documents are, and much quicker than YAML, of which it is a part.
    document = text.trimStart().startsWith('{')
      ? JSON.parse(text)
      : parse(text, { maxAliasCount: MAX_ALIASES });
  } catch (error) {
    return {
      status: 'refused',
      why: `is neither JSON nor YAML: ${error instanceof Error ? error.message : ''}`,
    };
  }
  const reading = readOpenApi(document);
  return reading ? { status: 'read', reading } : { status: 'refused', why: 'is no OpenAPI document.' };
}

self.onmessage = ({ data }: MessageEvent<string>) => self.postMessage(read(data));
