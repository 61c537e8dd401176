import { nth } from '../../place/index.ts';
/** What a heading says about its column, in the words of several languages. */
export interface Heading {
  readonly kind: HeadingKind | null;
  /** `out`: towards the internet; `in`: the machine behind the router. */
  readonly side: 'out' | 'in' | null;
  /** Of a range that stands in two columns. */
  readonly end: 'first' | 'last' | null;
  /** `Source port`, `Destination port`: filters call the dialled side the destination. */
  readonly filter: 'source' | 'destination' | null;
  readonly text: string;
}

export type HeadingKind =
  | 'port'
  | 'address'
  | 'protocol'
  | 'state'
  | 'name'
  | 'line'
  | 'schedule'
  | 'lifetime'
  | 'mac'
  | 'counted'
  | 'idle';

const words = (text: string): ReadonlySet<string> => new Set(text.split(' '));

const OUT = words(
  'external ext outside wan public pub router internet incoming inbound extern externer externe externes externo ' +
    'externa esterno esterna publico publica publique oeffentlich offentlich offentlicher aussen buiten global ' +
    'entrant entrante eingehend exterior exterieur esteriore outer',
);
const IN = words(
  'internal int inside lan private priv local device server target client computer host intern interner interne ' +
    'internes interno interna lokal lokaler locale local privado privada prive privat binnen ziel cible destino ' +
    'destinazione nat redirect redirected forward forwarded translated mapped machine interior interieur inner ' +
    'gerat equipo dispositivo appareil serveur servidor pc destination dest dst',
);
const PORT = words(
  'port ports porta porte portas puerto puertos poort poorten portbereich portnummer bereich range',
);
const ADDRESS = words(
  'ip ipv4 address addr adresse direccion indirizzo endereco adres host hostname machine device computer gerat ' +
    'client server equipo appareil dispositivo pc target ziel cible destino serveur servidor station',
);
const FIRST = words(
  'start first begin beginning from von de desde da debut low lower inicio inizio ab van min',
);
const LAST = words('end last to bis fin hasta a ate fine high upper tot until final ende max through');
const PROTOCOL = words('protocol protocols proto protokoll protocole protocolo protocollo prot transport');
const STATE = words(
  'enable enabled active activated status state on aktiv aktiviert activ actif active activo activado estado stato ' +
    'zustand statut etat habilitado attivo ativo ativado ingeschakeld actief applied apply eingeschaltet running',
);
const NAME = words(
  'name names description desc service application app rule comment label bezeichnung beschreibung nom nombre nome ' +
    'descripcion descricao descrizione dienst anwendung regel remark remarks note notes title naam omschrijving ' +
    'servicio servizio servico regla regra regola kommentar commentaire game program purpose profile',
);
const SOURCE = words(
  'source src remote allowed quelle quell origin origen origine origem bron sender peer absender entfernte',
);
const LINE = words(
  'interface line uplink connection schnittstelle leitung linea interfaz interfaccia ligne verbindung if iface ' +
    'connexion conexion conexao',
);
const SCHEDULE = words('schedule hours zeitplan horaire horario orario days calendar times timetable');
const LIFETIME =
  /life|lease|expir|ttl|durat|remain|\bage\b|second|since|laufzeit|duree|tiempo|tempo|last seen|time left|^left$|restzeit|restant|verbleib/;

/**
 * Columns without effect on whether a packet passes, with the reason: numbers and counters of rows, what is
 * written to a log, buttons, who made the row, and whether programs may ask for mappings of their own.
 */
const IDLE = words(
  'log logging logs hits packets bytes counter count traffic priority prio order index id no nr ' +
    'num row n upnp delete ' +
    'edit select action actions created changed owner user icon remove options modify bearbeiten loschen aktion ' +
    'aktionen category connections loopback # nummer numero added by date comments modified hit logged',
);

/** What a row has counted; bytes are no packets. */
const COUNTED = words('hits hit packets packet pkts counter pakete treffer paquets paquetes pacchetti');

const MARKS = /[\u0300-\u036f]/g;
const plain = (text: string): string =>
  text.toLowerCase().normalize('NFD').replace(MARKS, '').replaceAll('ß', 'ss').replaceAll('œ', 'oe');

/** Compounds of languages that write them together: `Außenport`, `Zieladresse`, `Startport`. */
const COMPOUND = /^(.{2,14}?)(port|adresse|poort|adres|ip)$/;

function tokensOf(text: string): string[] {
  const list = plain(text).match(/[\p{L}\d#]+/gu) ?? [];
  return list.flatMap((t) => {
    const parts = COMPOUND.exec(t);
    return parts && (known(nth(parts, 1)) || known(`${nth(parts, 1)}er`))
      ? [nth(parts, 1), nth(parts, 2)]
      : [t];
  });
}

const ALL = [OUT, IN, PORT, ADDRESS, FIRST, LAST, PROTOCOL, STATE, NAME, SOURCE, LINE];
const known = (token: string): boolean => ALL.some((set) => set.has(token));

/** Reads a heading. @returns `kind` null where its words are not known here */
export function headingOf(text: string): Heading {
  const tokens = tokensOf(text);
  const has = (set: ReadonlySet<string>): boolean => tokens.some((t) => set.has(t));
  const isPort = has(PORT);
  const isSource = has(SOURCE);
  const isDestination = tokens.some((t) => /^(dest|dst|destination)$/.test(t));
  const heading = {
    side: sideOf(has(OUT), tokens),
    end: endOf(tokens, isPort),
    filter: filterOf(isSource, isDestination),
    text,
  };
  return { kind: kindOf(tokens, text, isPort, isSource, has), ...heading };
}

function filterOf(isSource: boolean, isDestination: boolean): Heading['filter'] {
  if (isSource) return 'source';
  return isDestination ? 'destination' : null;
}

function sideOf(isOut: boolean, tokens: readonly string[]): Heading['side'] {
  const isIn = tokens.some((t) => IN.has(t));
  if (isOut === isIn) return isOut ? 'out' : null;
  return isOut ? 'out' : 'in';
}

function endOf(tokens: readonly string[], isPort: boolean): Heading['end'] {
  // `to port` of a single word is the end of a range; with a side before it the side counts as well.
  if (tokens.some((t) => LAST.has(t)) && (isPort || tokens.length === 1)) return 'last';
  return tokens.some((t) => FIRST.has(t)) && (isPort || tokens.length === 1) ? 'first' : null;
}

function kindOf(
  tokens: readonly string[],
  text: string,
  isPort: boolean,
  isSource: boolean,
  has: (set: ReadonlySet<string>) => boolean,
): HeadingKind | null {
  if (tokens.includes('mac')) return 'mac';
  if (isPort) return 'port';
  if (has(PROTOCOL)) return 'protocol';
  if (has(SCHEDULE)) return 'schedule';
  if (LIFETIME.test(plain(text))) return 'lifetime';
  if (tokens.length > 0 && tokens.every((t) => COUNTED.has(t))) return 'counted';
  if (has(IDLE)) return 'idle';
  if (has(LINE)) return 'line';
  if (has(STATE)) return 'state';
  if (isSource || has(ADDRESS)) return 'address';
  if (has(NAME)) return 'name';
  if (tokens.length === 1 && text.trim().length > 1 && (has(FIRST) || has(LAST))) return 'port';
  if (tokens.length > 0 && (has(OUT) || has(IN))) return 'address';
  return null;
}
