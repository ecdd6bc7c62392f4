import type { Notice } from '../api/audits';
import { address } from '../app/address';

/** Where a notice leads: to the finding of its audit; to the readout of what is to be decided; nowhere where it is gone. */
export function noticeAddress(site: string, { audit, identity, experiment, code }: Notice): string | null {
    if (audit !== null) {
        return `${address.audit(site, audit)}?finding=${encodeURIComponent(identity)}`;
    }

    return code === 'decision.due' && experiment ? address.experimentView(site, experiment, 'readout') : null;
}
