/** The parts of `mailsplit` that are used; the package has no types of its own. */
declare module 'mailsplit' {
  import type { Transform } from 'node:stream';

  export interface MimeHeaders {
    getList(): { readonly key: string; readonly line: string }[];
    getFirst(name: string): string;
    add(name: string, value: string, index?: number): void;
    update(name: string, value: string): void;
    remove(name: string): void;
  }

  export interface MimeNode {
    readonly type: 'node';
    readonly value?: undefined;
    readonly headers: MimeHeaders;
    readonly contentType: string | false;
    readonly disposition: string | false;
    readonly encoding: string | false;
    readonly charset: string | false;
    readonly filename: string | false;
    readonly multipart: string | false;
    setCharset(charset: string): void;
  }

  export type SplitPiece =
    MimeNode | { readonly type: 'body' | 'data'; readonly node?: MimeNode; readonly value: Buffer };

  export class Splitter extends Transform {
    constructor(options?: { ignoreEmbedded?: boolean; maxHeadSize?: number });
  }
  export class Joiner extends Transform {}
}
