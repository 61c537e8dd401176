/** A server at home with a tunnel; answers to strangers leave by `way`. */
export const tunnelledHost = (
  way: 'tunnel' | 'home',
  sockets = 'tcp LISTEN 0 1 0.0.0.0:8214 0.0.0.0:*\nudp UNCONN 0 0 0.0.0.0:28410 0.0.0.0:*\n',
) => ({
  'host/addresses':
    '2: eno1: <BROADCAST,UP,LOWER_UP> mtu 1500 state UP\n' +
    '    inet 192.168.50.20/24 scope global eno1\n' +
    '3: ferry0: <POINTOPOINT,NOARP,UP,LOWER_UP> mtu 1420 state UNKNOWN\n' +
    '    inet 10.66.0.2/24 scope global ferry0\n',
  'host/routes':
    `default ${way === 'tunnel' ? 'dev ferry0' : 'via 192.168.50.1 dev eno1'}\n` +
    '192.168.50.0/24 dev eno1 scope link\n' +
    '10.66.0.0/24 dev ferry0 scope link\n',
  'host/sockets': `Netid State Recv-Q Send-Q Local Address:Port Peer Address:PortProcess\n${sockets}`,
  'host/rules': 'table inet none {\n}\n',
  'host/settings':
    'net.ipv4.conf.all.rp_filter = 0\nnet.ipv4.conf.eno1.rp_filter = 0\nnet.ipv4.conf.ferry0.rp_filter = 0\n',
});
