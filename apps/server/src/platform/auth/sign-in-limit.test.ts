import express, { type Express, type Request, type Response } from 'express';
import request from 'supertest';
import { accountLimit, addressLimit } from './sign-in-limit.js';

/** A sign-in that refuses every password but "right"; the client's address is believed from the proxy on loopback. */
function signIn(): Express {
  const application = express();
  application.set('trust proxy', 'loopback');
  application.post(
    '/session',
    addressLimit(),
    express.json(),
    accountLimit(),
    (given: Request, answer: Response) => {
      answer.status((given.body as { password: string }).password === 'right' ? 200 : 401).end();
    },
  );
  return application;
}

describe('limits of signing in', () => {
  let application: Express;
  const attempt = async (email: string, from: string, password = 'wrong') =>
    (await request(application).post('/session').set('x-forwarded-for', from).send({ email, password }))
      .status;

  beforeEach(() => (application = signIn()));

  it('stop the eleventh wrong password for one account from one address, however the account is written', async () => {
    for (let count = 0; count < 10; count += 1)
      expect(await attempt(count % 2 ? 'ines@a.example' : ' INES@a.example', '192.0.2.1')).toBe(401);
    expect(await attempt('ines@a.example', '192.0.2.1')).toBe(429);
  });

  it('do not lock the holder of the account out at another address', async () => {
    for (let count = 0; count < 12; count += 1) await attempt('ines@a.example', '192.0.2.1');
    expect(await attempt('ines@a.example', '198.51.100.7', 'right')).toBe(200);
  });

  it('stop one address that tries many accounts', async () => {
    const answers: number[] = [];
    for (let count = 0; count < 31; count += 1)
      answers.push(await attempt(`person${count}@a.example`, '192.0.2.1'));
    expect(answers.slice(0, 30)).not.toContain(429);
    expect(answers[30]).toBe(429);
  });

  it('slow down many addresses that try one account', async () => {
    const answers: number[] = [];
    for (let count = 0; count < 61; count += 1)
      answers.push(await attempt('ines@a.example', `192.0.2.${count}`));
    expect(answers.slice(0, 60)).not.toContain(429);
    expect(answers[60]).toBe(429);
  });

  it('do not count right passwords', async () => {
    for (let count = 0; count < 40; count += 1)
      expect(await attempt('ines@a.example', '192.0.2.1', 'right')).toBe(200);
  });
});
