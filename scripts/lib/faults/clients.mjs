import { createHash, randomUUID } from 'node:crypto';
import { setTimeout as wait } from 'node:timers/promises';
import { createTransport } from 'nodemailer';
import { say } from '../say.mjs';

const FROM = 'orla.fenwick@merrowstrait.example';
const TO = 'berths@harbour-office.example';
/** Clients try again for so long, as mail servers and agents do, and then say that it is lost. */
const TRIED_FOR_MS = 300_000;
const PAUSE_MS = 500;

/** Mail clients and an agent that send until they are answered, and remember what was accepted. */
export class Clients {
  /** Door and key of everything that the server said it has. */
  accepted = new Set();
  refused = 0;
  refusedForGood = 0;

  constructor({ port, smtp }, [account]) {
    this.address = `http://127.0.0.1:${port}/api`;
    this.smtp = smtp;
    this.account = account;
  }

  /** Signs in, and makes an agent. */
  async open() {
    const { email, password } = this.account;
    const answer = await fetch(`${this.address}/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ email, password }),
    });
    const { csrfToken } = await answer.json();
    this.headers = {
      cookie: answer.headers.get('set-cookie')?.split(';')[0] ?? '',
      'x-csrf-token': csrfToken,
    };
    const made = await this.json('POST', '/agents', { name: `Faults ${randomUUID().slice(0, 8)}` });
    this.agent = made;
  }

  /** Asks again where a connection ended just then: a server ends those that are idle. Nothing but `GET` is asked twice. */
  async json(method, path, body) {
    if (method !== 'GET') await this.json('GET', '/session');
    try {
      return await this.#once(method, path, body);
    } catch (error) {
      if (method !== 'GET') throw error;
      await wait(PAUSE_MS);
      return this.#once(method, path, body);
    }
  }

  async #once(method, path, body) {
    const answer = await this.request(method, path, {
      headers: { 'content-type': 'application/json' },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    if (!answer.ok) throw new Error(`${method} ${path}: ${answer.status}`);
    return answer.json();
  }

  request(method, path, { headers = {}, ...rest } = {}) {
    return fetch(this.address + path, { method, headers: { ...this.headers, ...headers }, ...rest });
  }

  /** So many mails and so many movements, all at once; resolves when each has its answer. */
  sendAll(count, name) {
    const all = Array.from({ length: count }, (_unused, index) => `${name}-${index}`);
    return Promise.all([
      ...all.map((each) => this.until(() => this.mail(each))),
      ...all.map((each) => this.until(() => this.movement(each))),
    ]);
  }

  /** Tries until there is an answer for good: `attempt` gives true, or false to be asked again. */
  async until(attempt) {
    const end = Date.now() + TRIED_FOR_MS;
    while (Date.now() < end) {
      if (await attempt().catch(() => false)) return;
      this.refused += 1;
      await wait(PAUSE_MS + Math.random() * PAUSE_MS);
    }
    this.#refuse('something that was never answered');
  }

  /** Nothing of what is sent here gives a reason to refuse it. */
  #refuse(why) {
    if (this.refusedForGood === 0) say(`  refused for good: ${why}`);
    this.refusedForGood += 1;
  }

  async mail(name, body = 'The berth is free from Tuesday.', file = null) {
    const raw = await rawMail(name, body, file);
    const key = createHash('sha256').update(`${FROM}\n${TO}\n`).update(raw).digest('hex');
    const transport = createTransport({
      ...{ host: '127.0.0.1', port: this.smtp, ignoreTLS: true },
      ...{ connectionTimeout: 20_000, greetingTimeout: 20_000, socketTimeout: 120_000 },
    });
    try {
      await transport.sendMail({ envelope: { from: FROM, to: [TO] }, raw });
      this.accepted.add(`smtp ${key}`);
      return true;
    } catch (error) {
      if (!(error.responseCode >= 500)) return false;
      // A refusal by a rule is an answer for good, where the content asks for one.
      if (file === null) this.#refuse(`a mail: ${error.response}`);
      return true;
    } finally {
      transport.close();
    }
  }

  async movement(name, body = 'The berth is free from Tuesday.', file = null) {
    const movement = {
      ...{ key: name, channel: 'endpoint', activity: 'copy', person: FROM },
      texts: [{ role: 'body', text: `${body} ${name}` }],
      files: file ? [{ name: file.name, base64: file.bytes.toString('base64') }] : [],
      putInto: [{ kind: 'device', device: 'plugged-in', name: 'grey stick', trusted: false }],
    };
    const answer = await fetch(`${this.address}/intake/movements`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', authorization: `Bearer ${this.agent.key}` },
      body: JSON.stringify({ movements: [movement] }),
      signal: AbortSignal.timeout(120_000),
    });
    if (!answer.ok) return file !== null && answer.status < 500 && answer.status !== 429;
    const [result] = (await answer.json()).results;
    if (result.status === 'judged') this.accepted.add(`${this.agent.id} ${name}`);
    // What the server says of both: nothing was kept, hand it in again.
    else if (result.code === 'busy' || result.code === 'internal') return false;
    else if (file === null) this.#refuse(`a movement: ${result.code} ${result.message}`);
    return true;
  }
}

function rawMail(name, body, file) {
  return new Promise((resolve, reject) =>
    createTransport({ streamTransport: true, buffer: true, newline: 'windows' }).sendMail(
      {
        ...{ from: FROM, to: TO, subject: `Berth ${name}`, messageId: `<${name}@faults.example>` },
        date: new Date(0),
        text: `${body}\r\n`,
        attachments: file ? [{ filename: file.name, content: file.bytes }] : [],
      },
      (error, { message } = {}) => (error ? reject(error) : resolve(ended(message))),
    ),
  );
}

/** Over the wire a mail ends with a line end. */
const ended = (raw) =>
  raw.subarray(-2).toString() === '\r\n' ? raw : Buffer.concat([raw, Buffer.from('\r\n')]);
