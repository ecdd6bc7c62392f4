import { Link, useSearchParams } from 'react-router';
import type { AuditRead } from '../api/audits';
import { count, plural } from '../parts/figures';

/** Whether exclusions left something out of what is shown, and the way to see it with and without them. */
export function ExclusionBar({ read }: { read: AuditRead }) {
    const [params] = useSearchParams();
    if (!read.excludes) {
        return null;
    }
    const to = (whole: boolean): string => {
        const next = new URLSearchParams(params);
        if (whole) {
            next.set('whole', '1');
        } else {
            next.delete('whole');
        }

        return `?${next}`;
    };
    const { exclusions, counts } = read.report;

    return (
        <div className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-1 border border-line bg-leaf px-3 py-1.5">
            <p className="flex-1 basis-72">
                {read.whole ? (
                    'Nothing is left out of what you see here: it is as if there were no exclusions.'
                ) : (
                    <>
                        {plural(exclusions.length, 'exclusion')} {exclusions.length === 1 ? 'leaves' : 'leave'} out {count(counts.excluded)}{' '}
                        of {count(counts.excluded + counts.events)} events: {exclusions.map(({ name }) => name).join(', ')}.
                    </>
                )}
            </p>
            <nav aria-label="With and without exclusions" className="flex border border-line">
                {[false, true].map((whole) => (
                    <Link
                        key={`${whole}`}
                        to={to(whole)}
                        aria-current={whole === read.whole ? 'true' : undefined}
                        className="px-3 py-0.5 text-accent hover:bg-ground aria-[current]:bg-accent aria-[current]:text-white"
                    >
                        {whole ? 'Without exclusions' : 'With exclusions'}
                    </Link>
                ))}
            </nav>
        </div>
    );
}
