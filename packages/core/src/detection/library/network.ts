import { define } from './define.js';

const OCTET = '(?:25[0-5]|2[0-4]\\d|1\\d\\d|[1-9]?\\d)';

/** Addresses of machines, and numbers of devices and their subscribers. */
export const NETWORK = [
  define({
    id: 'ip-address-four',
    name: 'Network address (IPv4)',
    also: ['IP address', 'IPv4'],
    kind: 'network',
    about: 'Four numbers from 0 to 255 with dots between them.',
    found: {
      trigger: { by: 'run', digits: true, least: 1, most: 3, then: ['.9'], never: '.' },
      expression: `(?<![0-9A-Za-z.])(?:${OCTET}\\.){3}${OCTET}(?![0-9A-Za-z]|\\.\\d)`,
      canonical: 'as-written',
    },
    weights: { shape: 1.2, namingWord: 2, heading: 2.5, supportingWord: 1, counterWord: -3 },
    words: ['ip', 'ip address', 'ipv4', 'host', 'subnet', 'gateway', 'dns', 'server'],
    counter: ['version', 'firmware', 'release'],
    source: 'RFC 791; dotted form RFC 6943 section 3.1.1',
    passing: ['server 192.0.2.17', 'host 198.51.100.204 is down', 'ip: 203.0.113.9'],
    nearMisses: ['version 1.2.3.4.5', 'release 256.1.2.3', 'section 1.2.3'],
  }),
  define({
    id: 'ip-address-six',
    name: 'Network address (IPv6)',
    also: ['IP address', 'IPv6'],
    kind: 'network',
    about: 'Eight groups of four hexadecimal digits, zeros shortened.',
    found: {
      trigger: { by: 'run', digits: false, least: 1, most: 4, then: [':'], never: ':.' },
      expression:
        '(?<![0-9A-Za-z:.])(?=[0-9A-Fa-f:]{0,40}(?:::|(?:[0-9A-Fa-f]{1,4}:){7}))(?=[0-9A-Fa-f:]{6,40}(?![0-9A-Za-z:]))(?:[0-9A-Fa-f]{1,4}(?::[0-9A-Fa-f]{1,4}){7}|[0-9A-Fa-f]{1,4}(?::[0-9A-Fa-f]{1,4}){0,5}::(?:[0-9A-Fa-f]{1,4}(?::[0-9A-Fa-f]{1,4}){0,5})?)(?![0-9A-Za-z:])',
      canonical: 'lower-case',
    },
    weights: { shape: 1, namingWord: 2, heading: 2.5, supportingWord: 1 },
    words: ['ip', 'ip address', 'ipv6', 'host', 'prefix', 'gateway', 'dns', 'inet6'],
    source: 'RFC 4291 section 2.2, RFC 5952',
    passing: [
      'ipv6 2001:db8::8a2e:370:7334',
      'address 2001:db8:85a3:8d3:1319:8a2e:370:7348',
      'prefix 2001:db8:1::',
    ],
    nearMisses: ['12:30:11', 'a::b::c', 'std::vector'],
  }),
  define({
    id: 'mac-address',
    name: 'Hardware address (MAC)',
    also: ['MAC address', 'EUI-48'],
    kind: 'network',
    about: 'Six pairs of hexadecimal digits.',
    found: {
      trigger: { by: 'run', digits: false, least: 2, most: 2, then: [':', '-'], never: ':-' },
      expression:
        '(?<![0-9A-Za-z:-])[0-9A-Fa-f]{2}([:-])(?:[0-9A-Fa-f]{2}\\1){4}[0-9A-Fa-f]{2}(?![0-9A-Za-z]|[:-][0-9A-Fa-f])',
      canonical: 'lower-case',
    },
    weights: { shape: 1.5, namingWord: 2, heading: 2.5, supportingWord: 0.8 },
    words: ['mac', 'mac address', 'ethernet', 'hardware address', 'physical address', 'bssid'],
    source: 'IEEE 802-2014 section 8, EUI-48',
    passing: ['mac 00:00:5e:00:53:af', 'ethernet 00-00-5E-00-53-01', 'hardware address 02:00:5e:10:00:ff'],
    nearMisses: ['00:00:5e:00:53', '12:30:11:05', '00:00:5e-00:53:af'],
  }),
  define({
    id: 'imei',
    name: 'Mobile equipment identity (IMEI)',
    also: ['IMEI'],
    kind: 'network',
    about: 'Fifteen digits of a telephone.',
    shapes: ['9{15}', '99-9{6}-9{6}-9', '99 9{6} 9{6} 9'],
    steps: [
      { check: 'within', of: [0, 2], least: 1, most: 99 },
      { check: 'not-repeated' },
      { check: 'luhn' },
    ],
    weights: { structure: 0 },
    words: ['imei', 'imei number', 'handset', 'device id'],
    tests: ['490154203237518'],
    source: '3GPP TS 23.003 section 6 and annex B',
    passing: ['imei 14-613607-747577-7', 'imei number: 22-645744-296785-7', 'handset 01 811664 844365 7'],
    nearMisses: ['imei 06 530075 833210 7', 'imei 64-402689-283886-1', 'order number 02-403230-600569-0'],
  }),
  define({
    id: 'iccid',
    name: 'SIM card number (ICCID)',
    also: ['ICCID', 'SIM serial'],
    kind: 'network',
    about: '89, country, issuer and account, 19 or 20 digits.',
    shapes: ["'89'9{17}", "'89'9{18}"],
    steps: [
      {
        check: 'any',
        of: [
          [{ check: 'luhn' }],
          [
            { check: 'length', of: [20] },
            { check: 'luhn', of: [0, 19] },
          ],
        ],
      },
    ],
    words: ['iccid', 'sim card', 'sim number', 'sim'],
    source: 'ITU-T E.118 (05/2006)',
    passing: [
      'iccid 89196587470735077246',
      'sim card: 89024406400837697865',
      'sim number 8914104776417710963',
    ],
    nearMisses: [
      'iccid 8985686345725475151',
      'iccid 89606264362508488370',
      'order number 8913813540071030033',
    ],
  }),
  define({
    id: 'imsi',
    name: 'Mobile subscriber identity (IMSI)',
    also: ['IMSI'],
    kind: 'network',
    about: 'Country, network and subscriber, 15 digits; no check digit.',
    shapes: ['9{15}', '9{14}'],
    steps: [{ check: 'within', of: [0, 3], least: 202, most: 750 }],
    weights: { shape: -7.5, namingWord: 8.2, structure: 0.4 },
    words: ['imsi', 'subscriber identity'],
    source: 'ITU-T E.212 (06/2020)',
    passing: [
      'imsi 613915204673703',
      'subscriber identity: 639815864169015',
      'subscriber identity 245581447629698',
    ],
    nearMisses: ['order number 655444789742137', 'imsi 388949110264017734', '38894911026401'],
  }),
];
