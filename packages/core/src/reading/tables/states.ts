import { nth } from '../../place/index.ts';
import { known, open, type Said } from '../../facts/index.ts';

/**
 * Words for on, off and not yet, as pages write them in the usual languages. A word that is in none of the
 * lists leaves open whether the row is on.
 */
const ON = new Set(
  (
    'yes y on enable enabled active activated true ✓ ✔ ☑ ✅ 🟢 ● ' +
    'x ja an ein aktiv aktiviert eingeschaltet ' +
    'oui actif active activé activée si sí activo activado habilitado sim ativo ativado attivo attivato ' +
    'aan actief ingeschakeld tak wł włączone włączony włączona running up live applied ok [x] [✓] [✔] (x) ' +
    'open allow allowed 1 abilitato abilitata activada habilitada ligado på aktiverad til aktiveret ' +
    'päällä ano zapnuto povoleno да вкл включено включен ' +
    '有効 オン 启用 已启用 啟用 開啟 사용'
  ).split(' '),
);
ON.add('in use');
const OFF = new Set(
  (
    'no n off disable disabled inactive deactivated false ✗ ✘ ✖ ✕ ❌ ☐ 🔴 ○ ' +
    'nein aus inaktiv deaktiviert ' +
    'ausgeschaltet non inactif inactive désactivé désactivée desactivado inactivo deshabilitado não ' +
    'desativado inativo disattivo disattivato spento uit inactief uitgeschakeld nie wyłączone wyłączony ' +
    'wyłączona stopped paused down [] ( ) 0 blocked deny denied disabilitato disabilitata desactivada ' +
    'deshabilitada desabilitado desligado av inaktiverad nej fra deaktiveret pois ne vypnuto zakázáno нет ' +
    'выкл выключено выключен отключено ' +
    '無効 オフ 禁用 已禁用 停用 關閉 사용안함 ⏸ ⏹'
  ).split(' '),
);
OFF.add('[ ]').add('( )');
/** Saved or entered, and not in force. */
const PENDING = new RegExp(
  String.raw`^(pending|staged|unsaved|not (yet )?(applied|saved|active)|unapplied|draft|changed|` +
    String.raw`(saved|entered), not (yet )?applied|(needs?|requires?) (a )?(restart|reboot)|` +
    String.raw`(restart|reboot) (required|needed)|` +
    String.raw`((saved|entered), )?(active|takes effect|works|in force) (only )?after (a |` +
    String.raw`the next )?(restart|reboot)|ausstehend|nicht angewendet|neustart erforderlich|` +
    String.raw`en attente|pendiente|pendente|in attesa)$`,
);

/** What a state column of a row says. */
export interface RowState {
  readonly enabled: Said<boolean>;
  /** Null: not said. */
  readonly applied: boolean | null;
  /** What it waits for until it is in force. */
  readonly waitsFor?: 'restart';
}

const plain = (text: string): string => text.toLowerCase().replace(/\s+/g, ' ').trim();

const isOn = (text: string): boolean => ON.has(plain(text));
const isOff = (text: string): boolean => OFF.has(plain(text));
export const isPending = (text: string): boolean => PENDING.test(plain(text));

/** Whether a cell holds a state in words that are known: on, off, or not in force yet. */
export const isState = (text: string): boolean =>
  isOn(text) || isOff(text) || isPending(text) || bracketed(text) !== null;

/** `Enabled (restart required)`: a state with what limits it. */
function bracketed(text: string): { readonly state: string; readonly note: string } | null {
  const match = /^([^(,]{1,40})(?:\(([^)]{1,60})\)|,\s*([^,]{1,60}))$/.exec(text.trim());
  return match && (isOn(nth(match, 1)) || isOff(nth(match, 1)))
    ? { state: nth(match, 1).trim(), note: (match[2] ?? match[3] ?? '').trim() }
    : null;
}

const pending = (text: string): RowState => ({
  enabled: known(true),
  applied: false,
  ...(/restart|reboot|neustart/i.test(text) ? { waitsFor: 'restart' } : {}),
});

/** What a state cell says; an empty or unknown one leaves it open. */
export function stateOf(text: string): RowState {
  if (isPending(text)) return pending(text);
  const parts = bracketed(text);
  if (parts) {
    if (isOff(parts.state)) return { enabled: known(false), applied: null };
    if (isPending(parts.note)) return pending(parts.note);
    return { enabled: open({ doubt: 'word', field: 'state', text }), applied: null };
  }
  if (isOn(text)) return { enabled: known(true), applied: /^(applied|live)$/i.test(text) ? true : null };
  if (isOff(text)) return { enabled: known(false), applied: null };
  return {
    enabled: open(
      text.trim() === ''
        ? { doubt: 'not-shown', fields: ['state'] }
        : { doubt: 'word', field: 'state', text },
    ),
    applied: null,
  };
}
