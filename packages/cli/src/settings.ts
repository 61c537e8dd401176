import { CaseError } from '@bright-ferry/core/case';
import type { Site } from '@bright-ferry/core/site';

/**
 * Settings that contradict themselves are wrong input: better one clear line than an answer that leaves them
 * out.
 */
export function refuseWrongSettings(site: Site): void {
  const first = site.problems?.[0];
  if (first) throw new CaseError('case.json', null, `settings of ${first.stop}: ${first.text}`);
}
