"""listen.py '[{"protocol": "tcp", "address": "0.0.0.0", "port": 8211, "v6only": false}, ...]' [process name]

Opens the sockets, prints "ready", and answers every connection or datagram with the addresses that it sees, as JSON.
"""
import json
import select
import socket
import sys

IP_PKTINFO = 8
IPV6_RECVPKTINFO, IPV6_PKTINFO = 49, 50


def show(host, port):
    host = host.split('%')[0]
    if host.startswith('::ffff:'):
        host = host[7:]
    return '[%s]:%d' % (host, port) if ':' in host else '%s:%d' % (host, port)


def open_socket(s):
    six = ':' in s['address']
    sock = socket.socket(socket.AF_INET6 if six else socket.AF_INET, socket.SOCK_STREAM if s['protocol'] == 'tcp' else socket.SOCK_DGRAM)
    sock.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    if six:
        sock.setsockopt(socket.IPPROTO_IPV6, socket.IPV6_V6ONLY, 1 if s.get('v6only', True) else 0)
    if s['protocol'] == 'udp':
        if six:
            sock.setsockopt(socket.IPPROTO_IPV6, IPV6_RECVPKTINFO, 1)
        else:
            sock.setsockopt(socket.IPPROTO_IP, IP_PKTINFO, 1)
    sock.bind((s['address'], s['port']))
    if s['protocol'] == 'tcp':
        sock.listen(16)
    sock.setblocking(False)
    return sock


def answer_datagram(sock):
    data, ancillary, _, peer = sock.recvmsg(2048, 256)
    own = None
    for level, kind, value in ancillary:
        if level == socket.IPPROTO_IP and kind == IP_PKTINFO:
            own = socket.inet_ntop(socket.AF_INET, value[8:12])
        if level == socket.IPPROTO_IPV6 and kind == IPV6_PKTINFO:
            own = socket.inet_ntop(socket.AF_INET6, value[:16])
    seen = json.dumps({'source': show(peer[0], peer[1]), 'destination': show(own or '?', sock.getsockname()[1])}).encode()
    # The answer leaves from the address that was asked.
    sock.sendmsg([seen], [(level, kind, value) for level, kind, value in ancillary if kind in (IP_PKTINFO, IPV6_PKTINFO)], 0, peer)


def main():
    sockets = [open_socket(s) for s in json.loads(sys.argv[1])]
    if len(sys.argv) > 2:
        with open('/proc/self/comm', 'w') as comm:
            comm.write(sys.argv[2])
    print('ready', flush=True)
    while True:
        readable, _, _ = select.select(sockets, [], [])
        for sock in readable:
            try:
                if sock.type == socket.SOCK_DGRAM:
                    answer_datagram(sock)
                    continue
                connection, peer = sock.accept()
                own = connection.getsockname()
                connection.sendall(json.dumps({'source': show(peer[0], peer[1]), 'destination': show(own[0], own[1])}).encode())
                connection.close()
            except OSError:
                pass


main()
