import type { ReactNode } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import type { Behind } from '../api/audits';
import { address, useSiteKey } from '../app/address';
import { chosenIn } from './part';

interface Props {
    behind: Behind;
    variant?: string;
    segment?: { dimension: string; value: string };
    /** Where it is of a stretch of its own, in place of the one that is shown. */
    stretch?: { since: string; until: string };
    /** Whether the number is of all, whatever part is chosen. */
    ofAll?: boolean;
    children: ReactNode;
}

/** A number that opens to who is behind it, in the part that is shown. */
export function NumberLink({ behind, variant, segment, stretch, ofAll = false, children }: Props) {
    const site = useSiteKey();
    const audit = Number(useParams().audit);
    const [params] = useSearchParams();
    const chosen = ofAll ? {} : chosenIn(params);
    const isElsewhere = segment && (chosen.dimension ?? segment.dimension) !== segment.dimension;
    // Hours and days are told apart by a stretch, and two segments together by none of our names.
    if (isElsewhere || ['day', 'weekday', 'hour'].includes(segment?.dimension ?? '')) {
        return <>{children}</>;
    }
    const query = new URLSearchParams({
        behind,
        ...(variant ? { variant } : {}),
        ...chosen,
        ...(segment ?? {}),
        ...(stretch ?? {}),
        ...(params.has('whole') ? { whole: '1' } : {}),
    });

    return (
        <Link
            to={`${address.audit(site, audit, 'rows')}?${query}`}
            className="underline decoration-line underline-offset-4 hover:text-accent hover:decoration-accent"
            title="Who is behind this number"
        >
            {children}
        </Link>
    );
}
