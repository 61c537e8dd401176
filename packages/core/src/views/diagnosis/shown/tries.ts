import { factsOf } from '../../../ledger/index.ts';
import { isReachable, parseAddress, parseTarget } from '../../../net/index.ts';
import { fails, fault, FITS, LIKELY, outcomesOf, works, type Detector } from './told.ts';

/** From one network alone it does not work: that network lets the port not out. */
const egress: Detector = (t) => {
  const mine = outcomesOf(t, 'client', 'client-by-name');
  return fails(mine) && works(outcomesOf(t, 'outside')) ? fault('client-egress', t.client, FITS) : null;
};

/** Another outside port of the same service is answered, this one is not. */
const blockedPort: Detector = (t) => {
  const service = new Set(
    (t.facts.document.service?.endpoints ?? []).flatMap((e) => [e.port, e.portEnd ?? e.port]),
  );
  const other = t.tries.some(
    (o) => o.vantage === 'client' && o.outcome === 'answered' && !service.has(parseTarget(o.to)?.port ?? -1),
  );
  const own = t.tries.filter(
    (o) => (o.vantage === 'client' || o.vantage === 'outside') && service.has(parseTarget(o.to)?.port ?? -1),
  );
  return other && own.length > 0 && own.every((o) => o.outcome === 'lost')
    ? fault('carrier-port-block', t.carrier, LIKELY)
    : null;
};

/** It works for everybody outside, and not for a client inside who dials the outside address. */
const hairpin: Detector = (t) => {
  const inside = outcomesOf(t, 'lan-by-outside-address');
  const from = parseAddress(t.facts.document.client?.address ?? '');
  const isInside = from !== null && !isReachable(from);
  return isInside && fails(inside) && works(outcomesOf(t, 'outside'))
    ? fault('hairpin-missing', t.gateway, LIKELY)
    : null;
};

/** The client comes by IPv6 first, and only that way is closed. */
const sixFirst: Detector = ({ facts, tries, gateway }) => {
  const six = tries.filter((o) => parseTarget(o.to)?.address.family === 6);
  const four = tries.filter((o) => parseTarget(o.to)?.address.family === 4 && o.vantage !== 'host');
  const has = factsOf(facts, 'name').find((n) => n.fact.type === 'AAAA' && n.fact.answers.length > 0);
  const isClosed =
    six.some((o) => o.vantage !== 'host' && o.outcome !== 'answered') ||
    /long (?:pause|wait)|first .*then/.test(facts.document.client?.says ?? '');
  return has &&
    isClosed &&
    four.some((o) => o.outcome === 'answered' && (o.vantage === 'client' || o.vantage === 'outside'))
    ? fault('name-v6-closed', gateway, LIKELY, [has.source])
    : null;
};

/** What tries from several places show together. */
export const TRIES: readonly Detector[] = [egress, blockedPort, hairpin, sixFirst];
