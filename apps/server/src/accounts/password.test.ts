import { demandStrong, hashPassword, isPassword } from './password.js';

const INES = { name: 'Ines Sorrel', email: 'ines.sorrel@merrow.example' };

describe('passwords', () => {
  it.each(['password1234', 'Passwort2026!', 'qwertyuiop123', '123456789012', 'aaaaaaaaaaaa', 'abababababab', 'Summer2026!!!', 'abcdefghijklm', 'InesSorrel123', 'ines.sorrel99', 'passwordpassword', '098765432109'])(
    '%s is refused',
    (password) => expect(() => demandStrong(password, INES)).toThrow('guessed first'),
  ); // prettier-ignore

  it.each(['the gull sat on crate 9', 'Tide-turns-at-four', 'kq8ZvT2mLx4p', 'sorrel soup at noon', 'пароль для маяка ночью'])(
    '%s is taken',
    (password) => expect(() => demandStrong(password, INES)).not.toThrow(),
  ); // prettier-ignore

  it('are kept as Argon2id with a salt of their own', async () => {
    const [one, other] = await Promise.all([hashPassword('the gull sat'), hashPassword('the gull sat')]);
    expect(one).toMatch(/^\$argon2id\$v=19\$m=19456,t=2,p=1\$/);
    expect(one).not.toBe(other);
    expect(await isPassword(one, 'the gull sat')).toBe(true);
    expect(await isPassword(one, 'the gull sat ')).toBe(false);
  });
});
