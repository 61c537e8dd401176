import { computed, type ComputedRef } from 'vue';
import { useRouter } from 'vue-router';
import type { Observation } from '@bright-ferry/core/case';
import type { Command } from './commands.ts';
import { download } from './download.ts';
import { OUTCOMES } from './outcomes.ts';
import { applyTheme, storedTheme } from './theme.ts';
import { useAnalysis } from '../stores/analysis.ts';
import { useCabinet } from '../stores/cabinet.ts';
import { useEdits } from '../stores/edits.ts';
import { useHistory } from '../stores/history.ts';
import { useIntake } from '../stores/intake.ts';
import { useNotices } from '../stores/notices.ts';
import { useSelection } from '../stores/selection.ts';

export interface BenchCommands {
  /** Opens a column of the crossing at the left. */
  readonly openStop: (column: string) => void;
  readonly exportCase: () => Promise<void>;
  readonly commands: ComputedRef<Command[]>;
}

/** Everything that the bench can be told to do, each with its key. `showAll` opens the list of them. */
export function useBenchCommands(showAll: () => void): BenchCommands {
  const router = useRouter();
  const analysis = useAnalysis();
  const cabinet = useCabinet();
  const edits = useEdits();
  const history = useHistory();
  const intake = useIntake();
  const notices = useNotices();
  const selection = useSelection();
  const id = (): string => history.current?.id ?? '';

  /**
   * The crossing has two columns that are no stops of their own: the name belongs to the client, the program
   * to the server.
   */
  function openStop(column: string): void {
    const path = history.document?.path ?? [];
    const ends = { name: path[0]?.id, program: path[path.length - 1]?.id };
    selection.openAt(column === 'name' || column === 'program' ? (ends[column] ?? null) : column);
  }

  function step(by: number): void {
    const ids = analysis.view?.stops.map((s) => s.id) ?? [];
    const at = ids.indexOf(selection.openStop ?? '');
    const next = ids[Math.min(Math.max(at + by, 0), ids.length - 1)];
    if (next) openStop(next);
  }

  async function exportCase(): Promise<void> {
    const packed = await cabinet.pack(id(), history.exported());
    if (packed) download(packed.name, packed.bytes, 'application/zip');
  }

  function goBack(): void {
    if (selection.goBack()) return;
    if (intake.questions.length > 0) intake.leaveOut();
    else notices.notice = null;
  }

  function nextPlace(): void {
    const views = analysis.view?.viewpoints ?? [];
    const at = views.findIndex((v) => v.key === analysis.view?.viewpoint);
    const next = views[(at + 1) % Math.max(views.length, 1)];
    if (next && views.length > 1) void analysis.lookFrom(next.key);
  }

  function takeForWhole(): void {
    const open = analysis.view?.ifWhole;
    if (open) void edits.setWhole(open.files);
  }

  function rehearse(): void {
    const next = analysis.view?.next;
    if (next?.kind === 'mend' && next.mend.rehearsal)
      selection.rehearsed = selection.rehearsed ? null : next.mend;
  }

  function made(): void {
    const next = analysis.view?.next;
    if (next?.kind === 'mend' && next.mend.shownBy) void edits.changeMade(next.mend);
  }

  function observe(outcome: Observation['outcome'], isOther: boolean): void {
    const trial = analysis.view?.trial;
    if (trial) void edits.observe(trial, outcome, isOther);
  }

  const toNextStep = (): void => document.querySelector<HTMLElement>('.advice .buttons button')?.focus();

  const commands = computed<Command[]>(() => [
    { title: 'New case', keys: 'n', run: () => void router.push('/new') },
    { title: 'All cases', keys: 'g c', run: () => void router.push('/cases') },
    { title: 'Write evidence', keys: 'e', run: () => document.getElementById('paste-box')?.focus() },
    { title: 'Put right what was heard, and the way', keys: 'c', run: () => selection.toggle('case') },
    { title: 'All evidence', keys: 's', run: () => selection.toggle('shelf') },
    { title: 'Rehearse the change', keys: 'r', run: rehearse },
    { title: 'The change is made', keys: 'm', run: made },
    { title: 'To the buttons of the next step', keys: 'b', run: toNextStep },
    ...OUTCOMES.map((o, i) => ({
      title: `The try: ${o.label}`,
      keys: String(i + 1),
      run: () => observe(o.outcome, o.other),
    })),
    { title: 'The listings are all that there is', keys: 'a', run: takeForWhole },
    {
      title: 'Hand over',
      keys: 'h',
      run: () => void router.push({ name: 'handover', params: { id: id() } }),
    },
    {
      title: 'Traffic: what became of the try',
      keys: 'g t',
      run: () => void router.push({ name: 'traffic', params: { id: id() } }),
    },
    {
      title: history.document?.closed ? 'Open the case again' : 'Close the case',
      keys: 'd',
      run: () => void edits.setClosed(!history.document?.closed),
    },
    { title: 'Undo', keys: 'Ctrl Z', run: () => void history.undo() },
    { title: 'Redo', keys: 'Ctrl Shift Z', run: () => void history.redo() },
    { title: 'Export the case', keys: 'x', run: () => void exportCase() },
    { title: 'Try from the next place', keys: 'v', run: nextPlace },
    { title: 'What may be wrong', keys: 'q', run: () => selection.toggle('suspects') },
    { title: 'Who tries from where', keys: 'w', run: () => selection.toggle('grid') },
    { title: 'Next stop', keys: '→', run: () => step(1) },
    { title: 'Stop before', keys: '←', run: () => step(-1) },
    { title: 'Day or night', keys: 't', run: () => applyTheme(storedTheme() === 'day' ? 'night' : 'day') },
    { title: 'One step back', keys: 'Esc', run: goBack },
    { title: 'All commands', keys: '?', run: showAll },
  ]);

  return { openStop, exportCase, commands };
}
