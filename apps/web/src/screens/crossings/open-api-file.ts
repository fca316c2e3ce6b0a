import { MAX_OPENAPI_LENGTH } from '@lantern/contracts/crossings';
import type { OpenApiReading } from '@lantern/core/automations';

export type OpenApiFile =
  | { readonly status: 'read'; readonly reading: OpenApiReading }
  | { readonly status: 'refused'; readonly why: string };

/** Largest documents take some seconds; what takes longer was made to. */
const WITHIN_MS = 30_000;

/** Reads an OpenAPI document in a worker, so that a large or hostile one holds up nothing. */
export async function readOpenApiFile(file: File): Promise<OpenApiFile> {
  if (file.size > MAX_OPENAPI_LENGTH)
    return refused(`${file.name} is larger than ${MAX_OPENAPI_LENGTH / 1_000_000} MB. Nothing was read.`);
  const text = await file.text();
  const worker = new Worker(new URL('./open-api-worker.ts', import.meta.url), { type: 'module' });
  try {
    return await new Promise<OpenApiFile>((resolve) => {
      const timer = setTimeout(
        () => resolve(refused(`${file.name} takes too long to read. Nothing was read.`)),
        WITHIN_MS,
      );
      worker.onmessage = ({ data }: MessageEvent<OpenApiFile>) => {
        clearTimeout(timer);
        resolve(data.status === 'read' ? data : refused(`${file.name} ${data.why}`));
      };
      worker.onerror = () => {
        clearTimeout(timer);
        resolve(refused(`${file.name} could not be read.`));
      };
      worker.postMessage(text);
    });
  } finally {
    worker.terminate();
  }
}

const refused = (why: string): OpenApiFile => ({ status: 'refused', why });
