import { readConfig } from './config.js';

const whole = {
  LANTERN_DATABASE: '{"host":"127.0.0.1","port":3307,"username":"app","database":"lantern"}',
  LANTERN_DATABASE_PASSWORD: 'secret',
  LANTERN_MASTER_KEY: 'ab'.repeat(32),
  PORT: '4700',
};

describe('readConfig', () => {
  it('reads what the start command hands over', () => {
    expect(readConfig(whole)).toMatchObject({
      port: 4700,
      demo: 'none',
      database: { port: 3307, password: 'secret' },
    });
    expect(readConfig({ ...whole, LANTERN_DEMO: 'merrow', PORT: undefined })).toMatchObject({
      port: 4600,
      demo: 'merrow',
    });
  });

  it.each([
    ['LANTERN_DATABASE', { LANTERN_DATABASE: undefined }],
    ['LANTERN_DATABASE_PASSWORD', { LANTERN_DATABASE_PASSWORD: '' }],
    ['LANTERN_MASTER_KEY', { LANTERN_MASTER_KEY: undefined }],
    ['LANTERN_MASTER_KEY', { LANTERN_MASTER_KEY: 'too short' }],
  ])('names %s when it is missing or wrong', (name, over) =>
    expect(() => readConfig({ ...whole, ...over })).toThrow(name),
  );

  it.each([
    ['log.example', { host: 'log.example', port: 6514, authority: null }],
    ['10.0.0.7:601', { host: '10.0.0.7', port: 601, authority: null }],
    ['[::1]:6514', { host: '::1', port: 6514, authority: null }],
    ['', null],
  ])('reads where the audit trail is sent on: %s', (given, syslog) => {
    expect(readConfig({ ...whole, LANTERN_SYSLOG: given }).syslog).toEqual(syslog);
  });

  it.each(['tls://log.example', 'log.example:99999', 'log example', ':6514'])(
    'refuses %s for it',
    (given) => {
      expect(() => readConfig({ ...whole, LANTERN_SYSLOG: given })).toThrow('LANTERN_SYSLOG');
    },
  );
});
