import { Link, useLocation, useNavigate, useSearchParams } from 'react-router';
import { useNewestAudits, type Audit } from '../api/audits';
import type { Experiment, Schemas } from '../api/client';
import { usePublished, useRestore } from '../api/life';
import { useChains, useExperiments, useRight } from '../api/queries';
import { usePublishRequests } from '../api/requests';
import { address, useSiteKey } from '../app/address';
import { VERDICT_STATE } from '../audits/grades';
import { Button, ButtonLink } from '../parts/Button';
import { LINKS, severity } from '../parts/chain';
import { count, plural } from '../parts/figures';
import { Moment } from '../parts/Moment';
import { StateMark } from '../parts/StateMark';
import { Table, type Column } from '../parts/Table';
import { useTitle } from '../parts/useTitle';
import { Waiting } from '../parts/Waiting';
import { held } from '../parts/words';
import { Noticed } from './Noticed';

const STAGES: Schemas['Stage'][] = ['running', 'scheduled', 'draft', 'paused', 'ended', 'archived'];

type Chain = ReturnType<typeof useChains>['data'] extends (infer T)[] | undefined ? T : never;

/** Every experiment with its chain: what is running and worst comes first. */
export function Bench() {
    const site = useSiteKey();
    const experiments = useExperiments(site);
    const chains = useChains(site);
    const audits = useNewestAudits(site).data ?? [];
    const mayWork = useRight(site) !== 'look';
    const [params] = useSearchParams();
    const stage = params.get('state');
    const silent = chains.data?.filter(({ received }) => received?.silent).length ?? 0;
    useTitle(silent > 0 ? `${plural(silent, 'experiment')} without visitors · Bench` : 'Bench');

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <div className="mb-3 flex flex-wrap items-baseline gap-x-6 gap-y-2">
                <h1 className="text-xl font-semibold">Bench</h1>
                <Waiting query={experiments}>{(all) => <StageFilter all={all} chosen={stage} />}</Waiting>
                {mayWork && (
                    <ButtonLink look="main" to={address.newExperiment(site)} className="ml-auto">
                        Make an experiment
                    </ButtonLink>
                )}
            </div>
            <Deleted />
            <Noticed />
            <Requested />
            <PublishedLine />
            <Waiting query={experiments}>
                {(all) => (
                    <Waiting query={chains}>
                        {(known) => {
                            const shown = sorted(all, known).filter(([one]) => !stage || one.state === stage);

                            return shown.length === 0 ? <Nothing any={all.length > 0} /> : <Rows rows={shown} audits={audits} />;
                        }}
                    </Waiting>
                )}
            </Waiting>
        </div>
    );
}

/** The way back for a draft that was just deleted. */
function Deleted() {
    const site = useSiteKey();
    const { state } = useLocation() as { state: { deleted?: { key: string; name: string } } | null };
    const navigate = useNavigate();
    const restore = useRestore(site);
    if (!state?.deleted) {
        return null;
    }
    const { key, name } = state.deleted;

    return (
        <div role="status" className="mb-3 flex flex-wrap items-center gap-3 border border-line bg-leaf px-3 py-1.5">
            The draft “{name}” is deleted.
            <Button
                disabled={restore.isPending}
                onClick={() => restore.mutate(key, { onSuccess: () => navigate(address.experiment(site, key)) })}
            >
                Undo
            </Button>
            {restore.error && <span className="text-broken">{restore.error.message}</span>}
        </div>
    );
}

/** What waits for somebody who publishes. */
function Requested() {
    const site = useSiteKey();
    const open = (usePublishRequests(site).data ?? []).filter(({ state }) => state === 'open');
    if (open.length === 0) {
        return null;
    }

    return (
        <p role="status" className="mb-3 border border-line bg-leaf px-3 py-1.5">
            <Link to={address.requests(site)} className="text-accent underline underline-offset-4">
                {open.length === 1 ? 'One request waits' : `${open.length} requests wait`}
            </Link>
            : {open[0].author} asks to {open[0].title.charAt(0).toLowerCase() + open[0].title.slice(1)}
            {open.length > 1 && ', and more'}.
        </p>
    );
}

/** Which published file pages get, and whether it has reached visitors. */
function PublishedLine() {
    const site = useSiteKey();
    const now = usePublished(site).data;
    if (!now || (now.number === 0 && !now.trouble)) {
        return null;
    }

    return (
        <p className={`mb-3 text-sm ${now.trouble ? 'text-broken' : 'text-soft'}`} data-figure="published">
            <Link to={address.published(site)} className="text-accent underline underline-offset-4">
                Published file {now.number}
            </Link>
            , <Moment at={now.published_at} />:{' '}
            {now.met.visitors > 0 ? (
                <>
                    met by {plural(now.met.visitors, 'visitor')} since <Moment at={now.met.first} />
                </>
            ) : (
                'no visitor has met it yet'
            )}
            .{now.held && ' An earlier one was put back.'}
            {now.trouble && ` What is declared is not published: ${now.trouble.why}`}
        </p>
    );
}

function sorted(experiments: Experiment[], chains: Chain[]): [Experiment, Chain | undefined][] {
    const rows = experiments.map((one): [Experiment, Chain | undefined] => [one, chains.find((chain) => chain.experiment === one.key)]);
    const place = ([one, chain]: [Experiment, Chain | undefined]): number =>
        STAGES.indexOf(one.state) * 10 + (chain ? severity(chain.links) : 9);

    return rows.sort((a, b) => place(a) - place(b));
}

function StageFilter({ all, chosen }: { all: Experiment[]; chosen: string | null }) {
    const choices = [null, ...STAGES.filter((stage) => all.some((one) => one.state === stage))];

    return (
        <nav aria-label="Filter by state" className="flex flex-wrap gap-x-4">
            {choices.map((stage) => (
                <Link
                    key={stage}
                    to={stage ? `?state=${stage}` : '?'}
                    aria-current={stage === chosen ? 'true' : undefined}
                    className="inline-block py-0.5 leading-6 text-accent underline-offset-4 hover:underline aria-[current]:font-semibold aria-[current]:text-ink"
                >
                    {stage ?? 'all'} {stage ? all.filter((one) => one.state === stage).length : all.length}
                </Link>
            ))}
        </nav>
    );
}

function Nothing({ any }: { any: boolean }) {
    const site = useSiteKey();

    return (
        <div className="border-y border-line bg-leaf p-10 text-center">
            <p className="mx-auto max-w-xl">
                {any
                    ? 'No experiment is in this state.'
                    : 'There is no experiment yet. Make one: name the page, say what each variant changes, and which page counts as the goal. Pellix then shows, link by link, whether it works.'}
            </p>
            {!any && (
                <ButtonLink to={address.firstSteps(site)} className="mt-4">
                    First steps of a new site
                </ButtonLink>
            )}
        </div>
    );
}

type Line = [Experiment, Chain | undefined];

function Rows({ rows, audits }: { rows: Line[]; audits: Audit[] }) {
    const site = useSiteKey();
    const navigate = useNavigate();
    const columns: Column<Line>[] = [
        {
            key: 'experiment',
            head: 'Experiment',
            wide: true,
            sort: ([one]) => one.name,
            className: 'min-w-64 py-2 pr-4 pl-3 align-top',
            cell: ([one, chain]) => (
                <>
                    <Link to={address.experiment(site, one.key)} className="font-semibold text-accent underline-offset-4 hover:underline">
                        {one.name}
                    </Link>{' '}
                    <span className="text-sm text-soft">
                        <span className={chain?.received?.silent ? 'font-semibold text-broken' : ''} data-figure="stage">
                            {chain?.received?.words ?? one.state}
                        </span>
                        {one.state === 'scheduled' && (
                            <>
                                {' '}
                                for <Moment at={one.start_at} />
                            </>
                        )}{' '}
                        · <span className="font-mono text-xs">{one.key}</span>
                    </span>
                    <p className="text-sm">{chain?.words}</p>
                    <Audited audit={audits.find((audit) => audit.experiment === one.key)} />
                    {one.started_over && (one.state === 'running' || one.state === 'paused') && (
                        <p className="text-sm text-broken">Started over {plural(one.started_over.blockers.length, 'blocker')}.</p>
                    )}
                    {one.kept && (
                        <p className={`text-sm ${one.kept.overdue ? 'text-broken' : 'text-doubt-ink'}`}>
                            Serves “{one.variants.find(({ key }) => key === one.kept?.variant)?.name}” to everybody since{' '}
                            <Moment at={one.kept.since} />
                            {one.kept.overdue && ': code in the site should stand for it'}.
                        </p>
                    )}
                </>
            ),
        },
        ...LINKS.map(({ link, label }, i): Column<Line> => ({
            key: link,
            head: label,
            centred: true,
            className: 'relative min-w-17 px-1 py-2.5 align-top',
            cell: ([one, chain]) => <Judged experiment={one} judged={chain?.links.find((judged) => judged.link === link)} at={i} />,
        })),
        {
            key: 'visitors',
            head: 'Visitors',
            numeric: true,
            sort: ([, chain]) => chain?.visitors,
            className: 'px-3 py-2 align-top',
            cell: ([, chain]) => (
                <>
                    {chain ? count(chain.visitors) : ''}
                    {chain?.counting === 'building' && <span className="block text-xs text-doubt-ink">being counted</span>}
                </>
            ),
        },
        {
            key: 'last',
            head: 'Last exposure',
            numeric: true,
            sort: ([, chain]) => chain?.last_exposure,
            className: 'py-2 pr-3 align-top text-sm',
            cell: ([, chain]) => chain && <Moment at={chain.last_exposure} />,
        },
    ];

    return (
        <Table
            label="Experiments"
            columns={columns}
            rows={rows}
            rowKey={([one]) => one.key}
            onOpen={([one]) => navigate(address.experiment(site, one.key))}
        />
    );
}

/** What the newest audit says; a verdict that nobody has to do anything about is told by its mark alone. */
function Audited({ audit }: { audit?: Audit }) {
    const site = useSiteKey();
    if (!audit?.verdict) {
        return null;
    }

    return (
        <p className="line-clamp-2 text-sm">
            <Link to={address.audit(site, audit.audit)} className="text-accent underline-offset-4 hover:underline">
                <StateMark state={VERDICT_STATE[audit.verdict]} size={12} /> Audit
            </Link>
            : {audit.verdict === 'fit' ? 'fit to decide on' : held(audit.sentence)}
            {audit.since_last && audit.since_last.new > 0 && <strong className="font-semibold"> {audit.since_last.new} new.</strong>}
        </p>
    );
}

function Judged({ experiment, judged, at }: { experiment: Experiment; judged?: Chain['links'][number]; at: number }) {
    const site = useSiteKey();

    return (
        <>
            {/* The hairline that makes seven marks one chain. */}
            <span
                aria-hidden="true"
                className={`absolute top-5 h-px bg-line ${at === 0 ? 'left-1/2' : 'left-0'} ${at === LINKS.length - 1 ? 'right-1/2' : 'right-0'}`}
            />
            {judged && (
                <Link
                    to={address.experiment(site, experiment.key, judged.link)}
                    title={judged.words}
                    aria-label={`${LINKS[at].label}: ${judged.state}`}
                    className="relative inline-block bg-leaf px-1"
                >
                    <StateMark state={judged.state} size={18} />
                </Link>
            )}
        </>
    );
}
