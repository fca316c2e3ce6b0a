import { isBehindTls, sessionCookie } from './session-cookie.js';

it('goes over TLS alone, and under a name that no other host can set, where the workbench is reached by TLS', () => {
  expect(sessionCookie({ address: 'https://lantern.example' })).toEqual({
    // RFC 6265bis, 4.1.3.2: such a name needs Secure, the path /, and no domain.
    ...{ name: '__Host-lantern', options: { httpOnly: true, sameSite: 'strict', path: '/', secure: true } },
  });
});

it.each(['http://127.0.0.1:4600', 'http://https.example'])(
  'is one that browsers take over plain %s',
  (address) => {
    expect(isBehindTls({ address })).toBe(false);
    expect(sessionCookie({ address })).toMatchObject({ name: 'lantern_session' });
    expect(sessionCookie({ address }).options.secure).toBeUndefined();
  },
);
