/**
 * What a try came to, in one word that other programs can compare, with what the client's program said about
 * it.
 */
export type TryOutcome =
  'answered' | 'refused' | 'timeout' | 'prohibited' | 'name not resolved' | 'server answers' | 'unknown';
/** What a readiness check says of a server. */
export const READINESS: Readonly<Record<string, TryOutcome>> = {
  'accepting connections': 'answered',
  'no response': 'timeout',
};

/** Linux' error numbers that database clients print in brackets (errno(3)). */
export const ERRNO: Readonly<Record<string, TryOutcome>> = {
  '111': 'refused',
  '115': 'refused',
  '110': 'timeout',
  '4': 'timeout',
  // The same of Windows (Windows Sockets error codes).
  '10061': 'refused',
  '10060': 'timeout',
};

/** How systems word an error of connect(2) (POSIX errno texts, and the Windows ones). */
export const ERRORS: readonly (readonly [RegExp, TryOutcome])[] = [
  [/connection refused|actively refused|ECONNREFUSED|\(111\)|error 10061/i, 'refused'],
  [
    /timed? ?out|timeout expired|no response|ETIMEDOUT|\(110\)|error 10060|Operation now in progress/i,
    'timeout',
  ],
  // An ICMP "administratively prohibited" shows as these (RFC 1812 §5.2.7.1, RFC 4443 §3.1).
  [
    /no route to host|host is unreachable|permission denied|EHOSTUNREACH|network is unreachable/i,
    'prohibited',
  ],
  [
    new RegExp(
      String.raw`could not resolve|name or service not known|nodename nor servname|unknown host|` +
        String.raw`no such host|getaddrinfo|name resolution`,
      'i',
    ),
    'name not resolved',
  ],
];

export const errorOutcome = (text: string): TryOutcome | null =>
  ERRORS.find(([pattern]) => pattern.test(text))?.[1] ?? null;
