import { safePath } from './safe-path.js';

describe('safePath', () => {
  it.each([
    ['/api/incidents?search=4111', '/api/incidents'],
    ['/api/stand-ins/drive/desk@partner.example/files', '/api/stand-ins/drive/:address/files'],
    [
      '/api/stand-ins/drive/desk%40partner.example/links/s3cret/content',
      '/api/stand-ins/drive/:address/links/:token/content',
    ],
    ['/api/welcome/qb-lzBJUN5', '/api/welcome/:token'],
    ['/api/questions/qb-lzBJUN5', '/api/questions/:token'],
    ['/question/qb-lzBJUN5', '/question/:token'],
    ['/welcome/qb-lzBJUN5?again', '/welcome/:token'],
    ['/api/incidents/12/notes', '/api/incidents/12/notes'],
  ])('%s is logged as %s', (url, logged) => expect(safePath(url)).toBe(logged));
});
