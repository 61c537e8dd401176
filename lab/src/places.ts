/** Where things are on a site of the lab. */
export const WAN = '203.0.113.50';
export const WAN6 = '2001:db8:0:49::50';
export const HOST = '192.168.50.20';
export const HOST6 = '2001:db8:50::20';
export const CLIENT = '198.51.100.23';
export const CLIENT6 = '2001:db8:c1::23';
export const INSIDE = '192.168.50.77';
/** Another address of the client. */
export const OTHER = '198.51.100.32';
export const PORTS = [8211, 8214, 5432, 443, 28410, 8080] as const;
