"""probe.py: reads [{"from": "ADDR:PORT", "to": "ADDR:PORT/tcp"}] from standard input, makes all connections at once and
prints one outcome each: answered (with what the listener saw), refused or lost. Every ICMP error counts as refused.
"""
import errno
import json
import select
import socket
import sys
import time

WAIT = 4.3  # seconds: failed address resolution is reported after about three
RESEND = (1.1, 2.2)  # seconds: routing failures are answered once a second after the first few, and UDP does not repeat itself
IP_RECVERR, IPV6_RECVERR = 11, 25


def split(text):
    host, port = text.rsplit(':', 1)
    return host.strip('[]'), int(port)


def start(packet):
    target, protocol = packet['to'].rsplit('/', 1)
    (host, port), (own, own_port) = split(target), split(packet['from'])
    family = socket.AF_INET6 if ':' in host else socket.AF_INET
    sock = socket.socket(family, socket.SOCK_STREAM if protocol == 'tcp' else socket.SOCK_DGRAM)
    sock.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    if protocol == 'udp':
        sock.setsockopt(socket.IPPROTO_IPV6 if family == socket.AF_INET6 else socket.IPPROTO_IP, IPV6_RECVERR if family == socket.AF_INET6 else IP_RECVERR, 1)
    sock.bind((own, own_port))
    sock.setblocking(False)
    try:
        sock.connect((host, port))
        if protocol == 'udp':
            sock.send(b'hello')
    except BlockingIOError:
        pass
    except OSError as error:
        return sock, {'outcome': 'refused', 'errno': errno.errorcode.get(error.errno)}
    return sock, None


def main():
    packets = json.load(sys.stdin)
    states = [start(p) for p in packets]
    results = [r for _, r in states]
    waiting = {sock: i for i, (sock, r) in enumerate(states) if r is None}
    begin = time.time()
    end = begin + WAIT
    again = [begin + s for s in RESEND]
    while waiting and time.time() < end:
        if again and time.time() >= again[0]:
            again.pop(0)
            for sock in waiting:
                if sock.type == socket.SOCK_DGRAM:
                    try:
                        sock.send(b'hello')
                    except OSError:
                        pass
        readable, _, bad = select.select(list(waiting), [], list(waiting), max(0.01, min([end] + again) - time.time()))
        for sock in set(readable) | set(bad):
            i = waiting.pop(sock)
            try:
                data = sock.recv(2048)
                results[i] = {'outcome': 'answered', 'seen': json.loads(data)} if data else {'outcome': 'refused', 'errno': 'EOF'}
            except BlockingIOError:
                waiting[sock] = i
            except OSError as error:
                lost = error.errno == errno.ETIMEDOUT
                results[i] = {'outcome': 'lost' if lost else 'refused', 'errno': errno.errorcode.get(error.errno), 'seconds': round(time.time() - begin, 2)}
    print(json.dumps([r or {'outcome': 'lost'} for r in results]))


main()
