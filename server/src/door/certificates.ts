import 'reflect-metadata';
import { createPrivateKey, KeyObject, randomBytes, webcrypto, X509Certificate as Checked, type webcrypto as crypto } from 'node:crypto';
import fs from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { AsnConvert } from '@peculiar/asn1-schema';
import { GeneralName, GeneralSubtree, GeneralSubtrees, id_ce_nameConstraints, NameConstraints } from '@peculiar/asn1-x509';
import * as x509 from '@peculiar/x509';
import { BexlenError } from '@bexlen/core';
import { OWN_RANGES } from './addresses';

const DAY_MS = 86_400_000;
/** Clocks of phones are wrong: what is made today holds since a week ago. */
const BEFORE_MS = 7 * DAY_MS;
const AUTHORITY_MS = 3650 * DAY_MS;
/** Phones take no certificate that holds longer than this. */
const CERTIFICATE_MS = 390 * DAY_MS;
/** It is made anew when it holds no longer than this. */
const RENEW_MS = 60 * DAY_MS;
const ALGORITHM = { name: 'ECDSA', namedCurve: 'P-256', hash: 'SHA-256' };

export interface Credentials {
  readonly key: string;
  /** The certificate of this machine, and that of the authority behind it. */
  readonly cert: string;
  /** SHA-256 of the machine's certificate, in pairs of digits. */
  readonly fingerprint: string;
}

interface Authority {
  readonly certificate: x509.X509Certificate;
  readonly key: crypto.CryptoKey;
}

/**
 * The authority of one data folder, made once, and the certificates that it gives to this machine's addresses (RFC 5280). It can vouch for addresses of networks of one's own and
 * names that end in .local only, so a phone that trusts it trusts it with nothing else.
 */
export class Certificates {
  private constructor(
    private readonly folder: string,
    private readonly authority: Authority,
    private readonly now: () => number,
  ) {}

  /** Opens the authority in a folder, or makes it. Throws `damaged-file` where what is there cannot be used. */
  static async open(folder: string, now: () => number = Date.now): Promise<Certificates> {
    x509.cryptoProvider.set(webcrypto as never);
    await fs.mkdir(folder, { recursive: true, mode: 0o700 });
    const made = (await read(folder, 'authority')) ?? (await keep(folder, 'authority', await newAuthority(now())));
    const key = await usable(made, now()).catch(() => {
      throw new BexlenError(
        'damaged-file',
        `The authority in ${folder} cannot be used.`,
        'Move authority.pem and authority-key.pem out of that folder: a new one is made at the next start, which phones have to trust anew.',
      );
    });
    return new Certificates(folder, { certificate: new x509.X509Certificate(made.cert), key }, now);
  }

  /** The authority's certificate, for phones that are to trust it (PEM), and its SHA-256 in pairs of digits. */
  get trusted(): { readonly pem: string; readonly fingerprint: string } {
    const pem = this.authority.certificate.toString('pem');
    return { pem, fingerprint: new Checked(pem).fingerprint256 };
  }

  /** What this machine shows under some addresses and names: what is there while it fits, else a new one. */
  async for(addresses: readonly string[], names: readonly string[]): Promise<Credentials> {
    const there = await read(this.folder, 'certificate').catch(() => undefined);
    const made = there && this.fits(there, addresses, names) ? there : await keep(this.folder, 'certificate', await this.issue(addresses, names));
    return { key: made.key, cert: `${made.cert}\n${this.trusted.pem}\n`, fingerprint: new Checked(made.cert).fingerprint256 };
  }

  private fits({ cert, key }: Pair, addresses: readonly string[], names: readonly string[]): boolean {
    try {
      const certificate = new Checked(cert);
      const wanted = new Set([...addresses.map((a) => `IP Address:${a}`), ...names.map((n) => `DNS:${n}`)]);
      const has = (certificate.subjectAltName ?? '').split(', ');
      const [from, to] = [Date.parse(certificate.validFrom), Date.parse(certificate.validTo)];
      return (
        has.length === wanted.size &&
        has.every((one) => wanted.has(one)) &&
        certificate.verify(new Checked(this.trusted.pem).publicKey) &&
        certificate.checkPrivateKey(createPrivateKey(key)) &&
        from < this.now() &&
        this.now() < to - RENEW_MS
      );
    } catch {
      // What cannot be read is not good for these names.
      return false;
    }
  }

  private async issue(addresses: readonly string[], names: readonly string[]): Promise<Pair> {
    const keys = await newKeys();
    const { certificate, key } = this.authority;
    const cert = await x509.X509CertificateGenerator.create({
      serialNumber: randomBytes(16).toString('hex'),
      subject: 'CN=Bexlen',
      issuer: certificate.subject,
      notBefore: new Date(this.now() - BEFORE_MS),
      notAfter: new Date(this.now() + CERTIFICATE_MS),
      signingAlgorithm: ALGORITHM,
      publicKey: keys.publicKey,
      signingKey: key,
      extensions: [
        new x509.BasicConstraintsExtension(false, undefined, true),
        new x509.KeyUsagesExtension(x509.KeyUsageFlags.digitalSignature, true),
        new x509.ExtendedKeyUsageExtension([x509.ExtendedKeyUsage.serverAuth]),
        new x509.SubjectAlternativeNameExtension([
          ...addresses.map((value) => ({ type: 'ip' as const, value })),
          ...names.map((value) => ({ type: 'dns' as const, value })),
        ]),
        await x509.AuthorityKeyIdentifierExtension.create(certificate.publicKey),
        await x509.SubjectKeyIdentifierExtension.create(keys.publicKey),
      ],
    });
    return pairOf(cert, keys.privateKey);
  }
}

interface Pair {
  readonly cert: string;
  readonly key: string;
}

const newKeys = (): Promise<crypto.CryptoKeyPair> =>
  webcrypto.subtle.generateKey(ALGORITHM, true, ['sign', 'verify']) as Promise<crypto.CryptoKeyPair>;

const pairOf = (cert: x509.X509Certificate, key: crypto.CryptoKey): Pair => ({
  cert: cert.toString('pem'),
  key: KeyObject.from(key).export({ type: 'pkcs8', format: 'pem' }) as string,
});

async function newAuthority(now: number): Promise<Pair> {
  const keys = await newKeys();
  const cert = await x509.X509CertificateGenerator.createSelfSigned({
    serialNumber: randomBytes(16).toString('hex'),
    name: [{ CN: [`Bexlen on ${os.hostname().replace(/[^\w. -]/g, '') || 'this machine'}`] }],
    notBefore: new Date(now - BEFORE_MS),
    notAfter: new Date(now + AUTHORITY_MS),
    signingAlgorithm: ALGORITHM,
    keys,
    extensions: [
      new x509.BasicConstraintsExtension(true, 0, true),
      new x509.KeyUsagesExtension(x509.KeyUsageFlags.keyCertSign | x509.KeyUsageFlags.cRLSign, true),
      new x509.Extension(id_ce_nameConstraints, true, AsnConvert.serialize(constraints())),
      await x509.SubjectKeyIdentifierExtension.create(keys.publicKey),
    ],
  });
  return pairOf(cert, keys.privateKey);
}

/** RFC 5280, 4.2.1.10: what lies below this authority has addresses of these ranges, or names that end so. */
function constraints(): NameConstraints {
  const names = [...OWN_RANGES.map((iPAddress) => ({ iPAddress })), { dNSName: 'local' }];
  return new NameConstraints({ permittedSubtrees: new GeneralSubtrees(names.map((name) => new GeneralSubtree({ base: new GeneralName(name) }))) });
}

/** The key of a pair, for signing. Throws where the two are no pair, or are out of date. */
async function usable({ cert, key }: Pair, now: number): Promise<crypto.CryptoKey> {
  const certificate = new Checked(cert);
  const secret = createPrivateKey(key);
  if (!certificate.ca || !certificate.checkPrivateKey(secret) || Date.parse(certificate.validTo) < now + CERTIFICATE_MS)
    throw new Error('not usable');
  return webcrypto.subtle.importKey('pkcs8', secret.export({ type: 'pkcs8', format: 'der' }), ALGORITHM, false, ['sign']);
}

const namesIn = (folder: string, name: string): [cert: string, key: string] => [
  path.join(folder, `${name}.pem`),
  path.join(folder, `${name}-key.pem`),
];

/** What is kept under a name; nothing, if neither file is there. */
async function read(folder: string, name: string): Promise<Pair | undefined> {
  const [cert, key] = await Promise.all(namesIn(folder, name).map((file) => fs.readFile(file, 'utf8').catch(() => undefined)));
  return cert === undefined && key === undefined ? undefined : { cert: cert ?? '', key: key ?? '' };
}

async function keep(folder: string, name: string, pair: Pair): Promise<Pair> {
  const [cert, key] = namesIn(folder, name);
  await fs.writeFile(key, pair.key, { mode: 0o600 });
  await fs.writeFile(cert, pair.cert, { mode: 0o644 });
  return pair;
}
