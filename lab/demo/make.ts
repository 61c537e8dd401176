/**
 * Makes the evidence of the demo cases with real programs in namespaces and writes the case folders that ship
 * with the web application. Pages of a router cannot be made that way: their text is what a technician would
 * copy off one.
 *
 *     npm run demo      (as root, with iproute2, nftables, dnsmasq, dig and busybox)
 */
import { ebbtide } from './ebbtide.ts';
import { gullcast } from './gullcast.ts';
import { lanternReef } from './lanternReef.ts';

await lanternReef();
await gullcast();
await ebbtide();
