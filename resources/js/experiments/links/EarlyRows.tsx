import { Link } from 'react-router';
import { address, useSiteKey } from '../../app/address';
import { count, percent, plural } from '../../parts/figures';
import { Moment } from '../../parts/Moment';
import { inWords } from '../../parts/ruleRows';
import { triggerInWords } from '../../wiring/tagWords';
import { Row } from './Row';
import type { Sides } from './Workbench';

/** Page, Snippet and Entry: what happens before anybody is in the experiment. */
export function PageRows({ experiment, observed, site }: Sides) {
    const seen = observed.page_views;

    return (
        <Row
            last
            declared={
                <>
                    Pages whose <span className="font-mono text-sm">{inWords(experiment.pages)}</span> on {site.hosts.join(', ')}
                </>
            }
            observed={
                seen.count > 0 ? (
                    <>
                        {plural(seen.count, 'page view')}, last <Moment at={seen.last} />
                        <ul className="text-sm">
                            {observed.addresses.map((url) => (
                                <li key={url} className="truncate">
                                    <a
                                        href={url}
                                        target="_blank"
                                        rel="noreferrer"
                                        className="inline-block font-mono leading-[24px] text-accent underline-offset-4 hover:underline"
                                    >
                                        {url}
                                    </a>
                                </li>
                            ))}
                        </ul>
                    </>
                ) : (
                    <>
                        None. The site sent {plural(observed.site_views.count, 'page view')} from other pages.
                        {site.demo_origin && (
                            <>
                                {' '}
                                The demo site is at{' '}
                                <a className="text-accent underline" href={site.demo_origin} target="_blank" rel="noreferrer">
                                    {site.demo_origin}
                                </a>
                                .
                            </>
                        )}
                    </>
                )
            }
        />
    );
}

export function SnippetRows({ observed, site }: Sides) {
    const seen = observed.page_views;

    return (
        <Row
            last
            declared={
                <>
                    The snippet with key <span className="font-mono text-sm">{site.key}</span> on each of them.{' '}
                    <Link to={address.wiring(site.key)} className="text-accent underline underline-offset-4">
                        Show it
                    </Link>
                </>
            }
            observed={
                <>
                    {seen.count > 0 ? (
                        <>
                            It ran for {plural(seen.visitors, 'visitor')}, last <Moment at={seen.last} />
                        </>
                    ) : (
                        'It has not run on any of them.'
                    )}
                    <Inspected observed={observed} />
                </>
            }
        />
    );
}

function Inspected({ observed }: { observed: Sides['observed'] }) {
    const { known, inspected, sound, faulty, unreachable, last } = observed.inspected;

    return (
        <p className="text-sm">
            <Link to={address.coverage(useSiteKey())} className="text-accent underline underline-offset-4">
                {plural(known, 'known page')}
            </Link>
            {inspected === 0 ? (
                ', none of them inspected.'
            ) : (
                <>
                    : it stands on {count(sound)} of {count(inspected)} inspected
                    {faulty > 0 && <span className="text-broken">, is missing or broken on {count(faulty)}</span>}
                    {unreachable > 0 && `, ${count(unreachable)} could not be fetched`}; last <Moment at={last} />
                </>
            )}
        </p>
    );
}

function groupInWords({ key, from }: NonNullable<Sides['experiment']['group']>, share: number): string {
    return from === undefined
        ? `Group ${key}: it shares no visitor with the others of the group, and gets its part of them when it starts.`
        : `Group ${key}: its part is from ${percent(from)} to ${percent(from + share)} of all, and nobody there is in another experiment of the group.`;
}

export function EntryRows({ experiment, observed }: Sides) {
    const eligible = observed.page_views.visitors;
    const { entered } = observed;

    return (
        <Row
            last
            declared={
                <>
                    {percent(experiment.share)} of eligible {experiment.unit === 'user' ? 'signed-in users' : 'visitors'}
                    {experiment.trigger && `, from the moment of: ${triggerInWords(experiment.trigger)}`}
                    {experiment.audience && (
                        <p className="text-sm">
                            Eligible are those of whom: <span className="font-mono">{inWords(experiment.audience)}</span>
                        </p>
                    )}
                    {experiment.group && <p className="text-sm">{groupInWords(experiment.group, experiment.share)}</p>}
                </>
            }
            observed={
                eligible === 0 || !experiment.started_at ? (
                    'Nobody yet.'
                ) : (
                    <>
                        {percent(Math.min(1, entered.visitors / eligible))}: {plural(entered.visitors, 'visitor')} of{' '}
                        {plural(eligible, 'eligible one')}, last <Moment at={entered.last} />
                    </>
                )
            }
        />
    );
}
