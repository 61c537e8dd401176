/**
 * Kernel settings that decide where a packet goes: forwarding, and for each interface the source check (its
 * mode is the larger of `all` and its own).
 */
const KEYS =
  String.raw`ip_forward$|ipv6\.conf\.all\.forwarding$|` +
  String.raw`ipv4\.conf\..*\.(rp_filter|route_localnet|src_valid_mark)$`;

/** Prints them for a shell; it only reads (sysctl(8) of procps). */
export const SETTINGS_SHELL = `sysctl -a --pattern '${KEYS}'`;
