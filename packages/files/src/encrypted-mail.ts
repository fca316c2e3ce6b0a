import forge from 'node-forge';

/** Characters of a line of base 64 in mail (RFC 2045, section 6.8). */
const LINE = 76;

/** Fields that describe the content and go with it under the encryption (RFC 8551, section 3.1). */
const INNER = /^(content-|mime-version)/i;

/**
 * A mail encrypted for the holder of a certificate (PEM): its content as an enveloped message (RFC 8551, section 3.3;
 * AES-256 in CBC mode), its other fields around it as they were. The subject stays readable, as in every such mail.
 */
export function encryptedFor(raw: Uint8Array, certificate: string): Buffer {
  const { fields, body } = parted(Buffer.from(raw));
  const inner = fields.filter((field) => INNER.test(field));
  const outer = fields.filter((field) => !INNER.test(field));
  const content = Buffer.concat([Buffer.from(`${inner.join('')}\r\n`, 'latin1'), body]);
  const envelope = forge.pkcs7.createEnvelopedData();
  envelope.addRecipient(forge.pki.certificateFromPem(certificate));
  envelope.content = forge.util.createBuffer(content.toString('latin1'));
  envelope.encrypt(undefined, forge.pki.oids['aes256-CBC'] as string);
  const der = Buffer.from(forge.asn1.toDer(envelope.toAsn1()).getBytes(), 'latin1');
  const lines = der.toString('base64').match(new RegExp(`.{1,${LINE}}`, 'g')) ?? [];
  const head = [
    ...outer,
    'MIME-Version: 1.0\r\n',
    'Content-Type: application/pkcs7-mime; smime-type=enveloped-data; name="smime.p7m"\r\n',
    'Content-Transfer-Encoding: base64\r\n',
    'Content-Disposition: attachment; filename="smime.p7m"\r\n',
  ];
  return Buffer.from(`${head.join('')}\r\n${lines.join('\r\n')}\r\n`, 'latin1');
}

/** What an enveloped mail holds, for the holder of the key; null for a mail that is none, or of another key. */
export function decryptedWith(raw: Uint8Array, certificate: string, privateKey: string): Buffer | null {
  const { fields, body } = parted(Buffer.from(raw));
  if (!fields.some((field) => /^content-type:\s*application\/pkcs7-mime/i.test(field))) return null;
  try {
    const der = Buffer.from(body.toString('latin1'), 'base64').toString('latin1');
    const message = forge.pkcs7.messageFromAsn1(forge.asn1.fromDer(der)) as forge.pkcs7.PkcsEnvelopedData;
    const mine = message.findRecipient(forge.pki.certificateFromPem(certificate));
    if (!mine) return null;
    message.decrypt(mine, forge.pki.privateKeyFromPem(privateKey));
    return message.content ? Buffer.from(message.content.toString(), 'latin1') : null;
  } catch {
    return null;
  }
}

/** Fields of the head with their folds and line ends, and the body behind the empty line. */
function parted(raw: Buffer): { fields: string[]; body: Buffer } {
  const end = raw.indexOf('\r\n\r\n');
  const head = end === -1 ? raw : raw.subarray(0, end + 2);
  const body = end === -1 ? Buffer.alloc(0) : raw.subarray(end + 4);
  return { fields: head.toString('latin1').match(/[^\r\n]+\r\n(?:[ \t][^\r\n]*\r\n)*/g) ?? [], body };
}

/** A certificate with its key, of its own making: for stand-ins and tests. Valid from `at` for ten years. */
export function ownCertificate(address: string, at: Date): { certificate: string; privateKey: string } {
  const keys = forge.pki.rsa.generateKeyPair(2048);
  const certificate = forge.pki.createCertificate();
  certificate.publicKey = keys.publicKey;
  certificate.serialNumber = `01${forge.util.bytesToHex(forge.random.getBytesSync(15))}`;
  certificate.validity.notBefore = at;
  certificate.validity.notAfter = new Date(at.getTime() + 10 * 365 * 86_400_000);
  const name = [{ name: 'commonName', value: address }];
  certificate.setSubject(name);
  certificate.setIssuer(name);
  certificate.setExtensions([{ name: 'subjectAltName', altNames: [{ type: 1, value: address }] }]);
  certificate.sign(keys.privateKey, forge.md.sha256.create());
  return {
    certificate: forge.pki.certificateToPem(certificate),
    privateKey: forge.pki.privateKeyToPem(keys.privateKey),
  };
}
