import type { NetworkCheck } from '../../posts/posts';
import { Button } from '../../ui/Button';
import { type Fix, fixWords } from './useFit';

interface Props {
  check: NetworkCheck;
  name: string;
  isBusy: boolean;
  onFix: (fix: Fix) => void;
  /** Mends all that can be. */
  onFit: () => void;
}

/** What keeps a post out, apart from what is only advised; each with what mends it. */
export function Findings({ check, name, isBusy, onFix, onFit }: Props) {
  if (check.findings.length === 0) return null;
  const sorted = [...check.findings].sort((a, b) => Number(b.blocks) - Number(a.blocks));
  return (
    <ul className="flex flex-col gap-1 text-sm" aria-label={`Findings for ${name}`}>
      {sorted.map((finding) => (
        <li
          key={`${finding.code} ${finding.field} ${finding.item} ${finding.words}`}
          className={`flex flex-wrap items-baseline gap-x-2.5 border-l-4 py-0.5 pl-2 ${
            finding.blocks ? 'border-bad text-bad' : 'border-rule-strong'
          }`}
          data-finding={finding.code}
        >
          <span>
            <b>{finding.blocks ? 'Blocks' : 'Advice'}</b> {finding.words}
          </span>
          {finding.fixes[0] && (
            <Button
              variant="quiet"
              className="!px-1.5 !py-0 text-ink underline underline-offset-3"
              aria-label={`${fixWords[finding.fixes[0]]}: ${name}`}
              disabled={isBusy}
              onClick={() => finding.fixes[0] && onFix(finding.fixes[0])}
            >
              {fixWords[finding.fixes[0]]}
            </Button>
          )}
        </li>
      ))}
      {sorted.filter((f) => f.fixes.length > 0).length > 1 && (
        <li>
          <Button className="!px-2 !py-0.5" aria-label={`Fit this: ${name}`} disabled={isBusy} onClick={onFit}>
            Fit this
          </Button>
        </li>
      )}
    </ul>
  );
}
