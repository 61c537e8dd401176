import { execFileSync, spawn, type ChildProcess } from 'node:child_process';

/** Longest time that a single set-up command may take, milliseconds. */
const COMMAND_TIMEOUT = 20_000;

/** Longest time to wait for neighbours: one that cannot be resolved is a thing of the site. */
const RESOLUTION_TIMEOUT = 6_000;

interface End {
  readonly machine: string;
  readonly device: string;
  readonly addresses: readonly string[];
}

/**
 * A small network of namespaces that lives as long as the object. Names are made unique by the process id, so
 * that runs do not meet; `close` ends the programs that it started and removes the namespaces.
 */
export class Network {
  readonly #prefix: string;
  readonly #names = new Set<string>();
  readonly #children: ChildProcess[] = [];
  readonly #segments: (readonly End[])[] = [];

  constructor(label: string) {
    this.#prefix = `bf${process.pid}${label}`;
  }

  /** Adds a machine with a loopback interface that is up. */
  machine(name: string): void {
    this.#names.add(name);
    execFileSync('ip', ['netns', 'add', this.#full(name)], { timeout: COMMAND_TIMEOUT });
    this.run(name, 'ip link set lo up');
    // Errors are what is measured: none of them may be held back, and nothing may be shortened.
    this.run(
      name,
      'sysctl -qw net.ipv4.icmp_msgs_per_sec=100000 net.ipv4.icmp_msgs_burst=10000 ' +
        'net.ipv4.route.error_cost=0 2>/dev/null || true',
    );
    this.run(
      name,
      'sysctl -qw net.ipv4.icmp_ratelimit=0 net.ipv4.conf.all.send_redirects=0 ' +
        'net.ipv4.conf.default.send_redirects=0 net.ipv6.icmp.ratelimit=0 ' +
        'net.ipv6.conf.all.accept_dad=0 net.ipv6.conf.default.accept_dad=0',
    );
  }

  /**
   * Joins two machines by a cable. Addresses carry their prefix length; IPv6 ones skip duplicate detection.
   */
  cable(a: End, b: End): void {
    execFileSync(
      'ip',
      [
        'link',
        'add',
        a.device,
        'netns',
        this.#full(a.machine),
        'type',
        'veth',
        'peer',
        'name',
        b.device,
        'netns',
        this.#full(b.machine),
      ],
      { timeout: COMMAND_TIMEOUT },
    );
    this.#segments.push([a, b]);
    for (const end of [a, b]) this.#up(end);
  }

  /**
   * Joins any number of machines by a switch of its own: with bridge filtering on, a switch inside a machine
   * would obey its rules.
   */
  segment(ends: readonly End[]): void {
    this.#segments.push(ends);
    const name = `switch${this.#names.size}`;
    this.machine(name);
    this.run(name, 'ip link add sw type bridge && ip link set sw up');
    ends.forEach((end, i) => {
      execFileSync(
        'ip',
        [
          'link',
          'add',
          end.device,
          'netns',
          this.#full(end.machine),
          'type',
          'veth',
          'peer',
          'name',
          `port${i}`,
          'netns',
          this.#full(name),
        ],
        { timeout: COMMAND_TIMEOUT },
      );
      this.run(name, `ip link set port${i} master sw up`);
      this.#up(end);
    });
  }

  #up({ machine, device, addresses }: End): void {
    this.run(machine, `ip link set ${device} up`);
    for (const address of addresses)
      this.run(machine, `ip addr add ${address} dev ${device}${address.includes(':') ? ' nodad' : ''}`);
  }

  /**
   * Waits until every machine's interfaces carry and none of its addresses is tentative: on a busy computer
   * the kernel takes the news of a new cable up only after a while, and what is sent before is lost for
   * another reason than the site's.
   *
   * @throws {Error} where a machine is not ready in time
   */
  settle(): void {
    const end = Date.now() + COMMAND_TIMEOUT;
    for (const name of this.#names) {
      while (!this.#isReady(name)) {
        if (Date.now() > end) throw new Error(`the interfaces of ${name} did not come up`);
      }
    }
  }

  /**
   * Has all neighbours of all cables resolved, as in a network that has run for a while: three unanswered
   * requests of a second each, on a busy computer, are an error that no packet filter made.
   */
  async meet(): Promise<void> {
    const waiting = this.#segments.flatMap((ends) =>
      ends.flatMap((own) =>
        ends
          .filter((other) => other !== own)
          .flatMap(({ addresses }) => addresses.map((a) => ({ ...own, address: a.split('/')[0] ?? a }))),
      ),
    );
    const end = Date.now() + RESOLUTION_TIMEOUT;
    for (const { machine, device, address } of waiting) {
      while (!this.#isResolved(machine, device, address) && Date.now() < end)
        await new Promise((resolve) => setTimeout(resolve, 50));
    }
  }

  #isResolved(machine: string, device: string, address: string): boolean {
    const at = `to ${address} dev ${device}`;
    const states = this.run(machine, `ip neigh show ${at}`);
    if (/REACHABLE|STALE|DELAY|PROBE|PERMANENT/.test(states)) return true;
    if (!/INCOMPLETE/.test(states)) this.run(machine, `ip neigh replace ${address} dev ${device} use`);
    return false;
  }

  #isReady(machine: string): boolean {
    const listed = JSON.parse(this.run(machine, 'ip -j addr')) as {
      readonly operstate: string;
      readonly addr_info?: readonly { readonly tentative?: boolean }[];
    }[];
    return listed.every((i) => i.operstate !== 'DOWN' && !(i.addr_info ?? []).some((a) => a.tentative));
  }

  /** Runs a shell command on a machine and returns what it prints; throws where it fails. */
  run(machine: string, command: string, input?: string): string {
    return execFileSync('ip', ['netns', 'exec', this.#full(machine), 'sh', '-c', command], {
      encoding: 'utf8',
      timeout: COMMAND_TIMEOUT,
      stdio: ['pipe', 'pipe', 'pipe'],
      ...(input === undefined ? {} : { input }),
      maxBuffer: 1 << 28,
    });
  }

  /** Starts a program that goes on until `close`. */
  start(machine: string, command: readonly string[]): ChildProcess {
    const child = spawn('ip', ['netns', 'exec', this.#full(machine), ...command], {
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    this.#children.push(child);
    return child;
  }

  close(): void {
    for (const child of this.#children) child.kill('SIGKILL');
    for (const name of this.#names) {
      try {
        execFileSync('ip', ['netns', 'del', this.#full(name)], { timeout: COMMAND_TIMEOUT, stdio: 'ignore' });
      } catch {
        // Already gone: nothing is left to remove.
      }
    }
  }

  #full(name: string): string {
    return `${this.#prefix}${name}`;
  }
}

/** Whether this process may make namespaces. */
export function canMakeNamespaces(): boolean {
  try {
    const name = `bf${process.pid}probe`;
    execFileSync('ip', ['netns', 'add', name], { stdio: 'ignore' });
    execFileSync('ip', ['netns', 'del', name], { stdio: 'ignore' });
    return true;
  } catch {
    return false;
  }
}
