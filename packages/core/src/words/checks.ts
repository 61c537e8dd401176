/** Where a command or click path is for. */
export type System = 'linux' | 'windows' | 'macos' | 'page';

export interface CheckWords {
  readonly title: string;
  /** To paste into a chat with the owner. */
  readonly message: string;
  readonly commands: readonly { readonly system: System; readonly label: string; readonly text: string }[];
  /** Rough cost for the owner, minutes. */
  readonly minutes: number;
}

type Yields = 'addresses' | 'routes' | 'sockets' | 'rules' | 'forwards' | 'leases' | 'status' | 'name' | 'seen-address' | 'neighbours' | 'configuration' | 'sessions' | 'counters';

const linux = (text: string) => ({ system: 'linux' as const, label: 'Linux', text });
const windows = (text: string) => ({ system: 'windows' as const, label: 'Windows', text });
const macos = (text: string) => ({ system: 'macos' as const, label: 'macOS', text });
const page = (text: string) => ({ system: 'page' as const, label: 'Web page', text });

const please = (where: string): string => `Could you please run this on ${where} and send me everything that it prints:`;

/** Words and commands for each kind of evidence that can be asked for. `where` is the stop's name, `name` the dialled name. */
export function checkWords(yields: string, where: string, name: string | null = null): CheckWords {
  switch (yields as Yields) {
    case 'addresses': return { title: `Addresses of ${where}`, message: please(where), minutes: 2, commands: [linux('ip addr; ip route'), windows('ipconfig /all'), macos('ifconfig; netstat -rn')] };
    case 'routes': return { title: `Routes and settings of ${where}`, message: please(where), minutes: 2, commands: [linux('ip route show table all; ip rule; sysctl net.ipv4.ip_forward net.ipv4.conf.all.rp_filter'), windows('route print'), macos('netstat -rn')] };
    case 'sockets': return { title: `What listens on ${where}`, message: please(where), minutes: 2, commands: [linux('sudo ss -tulpn'), windows('netstat -ano'), macos('sudo lsof -nP -i')] };
    case 'rules': return { title: `Firewall rules of ${where}`, message: please(where), minutes: 3, commands: [linux('sudo nft -j list ruleset || { sudo iptables-save; sudo ip6tables-save; }'), windows('netsh advfirewall show allprofiles; netsh advfirewall firewall show rule name=all verbose; Get-NetConnectionProfile'), macos('sudo pfctl -si; sudo pfctl -sr')] };
    case 'forwards': return { title: `Forward table of ${where}`, message: `On the web page of ${where}, please open the list of port forwards, select the whole table with the mouse, copy it and paste it to me. If the page can show who holds which address (leases, connected devices), that list too.`, minutes: 4, commands: [page('Port forwards: select the whole table, copy'), linux('sudo nft -j list ruleset')] };
    case 'leases': return { title: `Who has which address at ${where}`, message: `On the web page of ${where}, please open the list of connected devices or leases, select all of it, copy it and paste it to me.`, minutes: 3, commands: [page('Connected devices or leases: select the whole list, copy'), linux('cat /var/lib/misc/dnsmasq.leases')] };
    case 'status': return { title: `Outside address of ${where}`, message: `On the web page of ${where}, please open the status page. There is an address called WAN, internet or outside. Send me that line, for example “WAN IP 203.0.113.50”.`, minutes: 3, commands: [page('Status or overview: the line with the WAN address'), linux('ip addr; ip route')] };
    case 'seen-address': return { title: 'The address that the internet sees', message: 'Please open any page that shows “your address” in a browser on that network (not on a phone with mobile data) and send me the address, for example “seen from outside 203.0.113.50”.', minutes: 1, commands: [page('Any “what is my address” page'), linux('a “what is my address” service that you trust, with curl')] };
    case 'name': return { title: `What ${name ?? 'the name'} resolves to`, message: `Please run this and send me what it prints:`, minutes: 1, commands: [linux(`dig ${name ?? 'NAME'}`), windows(`nslookup ${name ?? 'NAME'}`), macos(`host ${name ?? 'NAME'}`)] };
    case 'neighbours': return { title: `Neighbours of ${where}`, message: please(where), minutes: 2, commands: [linux('ip neigh'), windows('arp -a'), macos('arp -an')] };
    case 'counters': return { title: `Rule counters of ${where}`, message: `${please(where)} Then let the client try once, and run it again.`, minutes: 5, commands: [linux('sudo nft list ruleset')] };
    case 'configuration': return { title: 'What exactly the client types', message: 'Please copy exactly what you type into the program to connect, character by character, and the message that you get.', minutes: 1, commands: [] };
    default: return { title: `More about ${where}`, message: please(where), minutes: 3, commands: [linux('ip addr; ip route; sudo ss -tulpn')] };
  }
}
