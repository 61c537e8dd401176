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

const MARKS = /[\u0300-\u036f]/g;
const plain = (text: string): string =>
  text.toLowerCase().normalize('NFD').replace(MARKS, '').replaceAll('ß', 'ss').replaceAll('œ', 'oe');

const words = (text: string): ReadonlySet<string> => new Set(plain(text).split(' '));

const OUT = words(
  'external ext outside wan public pub router internet incoming inbound extern externer externe ' +
    'externes externo externa esterno esterna publico publica publique oeffentlich offentlich ' +
    'offentlicher aussen buiten global entrant entrante eingehend exterior exterieur esteriore outer ' +
    'zewnetrzny zewnetrzne zewnetrznego externi vnejsi ulkoinen внешний внешние внешнего',
);
const IN = words(
  'internal int inside lan private priv local device server target client computer host intern interner ' +
    'interne internes interno interna lokal lokaler locale local privado privada prive privat binnen ziel ' +
    'cible destino destinazione nat redirect redirected forward forwarded translated mapped machine ' +
    'interior interieur inner gerat equipo dispositivo appareil serveur servidor pc destination dest dst ' +
    'wewnetrzny wewnetrzne wewnetrznego interni vnitrni sisainen ' +
    'внутренний внутренние внутреннего',
);
const PORT = words(
  'port ports porta porte portas puerto puertos poort poorten portbereich portnummer bereich range ' +
    'porty portar portti порт порты порта',
);
const ADDRESS = words(
  'ip ipv4 address addr adresse direccion indirizzo endereco adres host hostname machine device ' +
    'computer gerat client server equipo appareil dispositivo pc target ziel cible destino serveur ' +
    'servidor station adress adresa osoite адрес',
);
const FIRST = words(
  'start first begin beginning from von de desde da debut low lower inicio inizio ab van min',
);
const LAST = words('end last to bis fin hasta a ate fine high upper tot until final ende max through');
const PROTOCOL = words(
  'protocol protocols proto protokoll protocole protocolo protocollo prot transport protokol protokoł ' +
    'protokolla протокол',
);
const STATE = words(
  'enable enabled active activated status state on aktiv aktiviert activ actif active activo activado ' +
    'estado stato zustand statut etat habilitado attivo ativo ativado ingeschakeld actief applied apply ' +
    'eingeschaltet running abilitato aktiverad aktiveret stan stav tila zapnuto wlaczone włączone ' +
    'состояние статус включено включен',
);
const NAME = words(
  'name names description desc service application app rule comment label bezeichnung beschreibung nom ' +
    'nombre nome descripcion descricao descrizione dienst anwendung regel remark remarks note notes title ' +
    'naam omschrijving servicio servizio servico regla regra regola kommentar commentaire game program ' +
    'purpose profile namn navn nazwa opis nazev nimi имя название описание',
);
const SOURCE = words(
  'source src remote allowed quelle quell origin origen origine origem bron sender peer absender entfernte',
);
const LINE = words(
  'interface line uplink connection schnittstelle leitung linea interfaz interfaccia ligne verbindung ' +
    'if iface connexion conexion conexao',
);
const SCHEDULE = words('schedule hours zeitplan horaire horario orario days calendar times timetable');
const LIFETIME = new RegExp(
  String.raw`life|lease|expir|ttl|durat|remain|\bage\b|second|since|laufzeit|duree|tiempo|tempo|` +
    String.raw`last seen|time left|^left$|restzeit|restant|verbleib`,
);

/**
 * Columns without effect on whether a packet passes, with the reason: numbers and counters of rows, what is
 * written to a log, buttons, who made the row, and whether programs may ask for mappings of their own.
 */
const IDLE = words(
  'log logging logs hits packets bytes counter count traffic priority prio order index id no nr num row ' +
    'n upnp delete edit select action actions created changed owner user icon remove options modify ' +
    'bearbeiten loschen aktion aktionen category connections loopback # nummer numero added by date ' +
    'comments modified hit logged',
);

/** What a row has counted; bytes are no packets. */
const COUNTED = words('hits hit packets packet pkts counter pakete treffer paquets paquetes pacchetti');

/** Compounds of languages that write them together: `Außenport`, `Zieladresse`, `Startport`. */
const COMPOUND = /^(.{2,14}?)(port|adresse|poort|adres|ip)$/;

/** Languages that write without blanks between words. */
const UNSPACED: readonly (readonly [RegExp, string])[] = [
  [/外部|外網|外网|公网/g, 'external'],
  [/内部|內部|内網|内网|宛先/g, 'internal'],
  [/ポート|端口|連接埠|埠號?|포트/g, 'port'],
  [/アドレス|地址|位址|주소/g, 'address'],
  [/プロトコル|协议|協定|프로토콜/g, 'protocol'],
  [/状態|状态|狀態|有効|启用|啟用|상태|사용/g, 'state'],
  [/名前|名称|名稱|이름/g, 'name'],
  [/외부/g, 'external'],
  [/내부/g, 'internal'],
];
const IS_UNSPACED = /[\u3040-\u30ff\u3400-\u9fff\uac00-\ud7af]/;

const parted = (text: string): string =>
  UNSPACED.reduce((t, [word, meaning]) => t.replace(word, ` ${meaning} `), text);

function tokensOf(text: string): string[] {
  const list = plain(IS_UNSPACED.test(text) ? parted(text) : text).match(/[\p{L}\d#]+/gu) ?? [];
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
