import { useState } from 'react';
import { usePublications, usePutBack, type Publication } from '../api/life';
import { useRight } from '../api/queries';
import { useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { plural } from '../parts/figures';
import { Moment } from '../parts/Moment';
import { Question } from '../parts/Question';
import { Waiting } from '../parts/Waiting';
import { WiringTabs } from './WiringTabs';

/** The files that pages got, by their numbers: what was new in each, who has met it, and the way back. */
export function Published() {
    const site = useSiteKey();
    const all = usePublications(site);
    const putBack = usePutBack(site);
    const right = useRight(site);
    const [asked, setAsked] = useState<Publication | null>(null);
    const mayPublish = right === 'publish' || right === 'own';

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <WiringTabs />
            <Waiting query={all}>
                {({ now, newest }) => (
                    <>
                        {now.trouble && (
                            <div role="alert" className="mb-3 border-l-3 border-broken bg-leaf px-4 py-2">
                                <p className="font-semibold">What is declared is not published; pages go on with number {now.number}.</p>
                                <p>
                                    {now.trouble.why} Since <Moment at={now.trouble.since} />.
                                </p>
                            </div>
                        )}
                        {(now.held || now.trouble) && (
                            <div className="mb-3 flex flex-wrap items-center gap-4">
                                {now.held && (
                                    <p>
                                        An earlier file was put back. It stays until something is changed, or you publish what is declared.
                                    </p>
                                )}
                                {mayPublish && (
                                    <Button look="main" disabled={putBack.isPending} onClick={() => putBack.mutate(null)}>
                                        Publish what is declared
                                    </Button>
                                )}
                            </div>
                        )}
                        {newest.length === 0 && <p>Nothing was published yet. The first experiment that starts is.</p>}
                        <ol className="border border-line bg-leaf">
                            {newest.map((one, i) => (
                                <li
                                    key={one.number}
                                    data-publication={one.number}
                                    className="grid grid-cols-[4rem_1fr_auto] gap-x-4 border-b border-line px-4 py-2 last:border-0"
                                >
                                    <span className="font-mono text-lg">{one.number}</span>
                                    <div className="min-w-0">
                                        <p>
                                            <Moment at={one.published_at} />
                                            {one.puts_back !== null &&
                                                ` · puts back number ${one.puts_back}${one.author && ` (${one.author})`}`}
                                            {i === 0 && <strong> · what pages get now</strong>}
                                        </p>
                                        <p className="text-sm text-soft">
                                            {one.met.visitors > 0 ? (
                                                <>
                                                    Met by {plural(one.met.visitors, 'visitor')} since <Moment at={one.met.first} />
                                                </>
                                            ) : (
                                                'Nobody has met it yet'
                                            )}
                                            {one.experiments.length > 0 && ` · ${one.experiments.join(', ')}`}
                                        </p>
                                        {one.changes.length > 0 && (
                                            <p className="font-mono text-xs break-words text-soft">
                                                {one.changes
                                                    .map(
                                                        ({ field, before, after }) =>
                                                            `${before == null ? '+' : after == null ? '−' : '≠'} ${field}`,
                                                    )
                                                    .slice(0, 8)
                                                    .join('   ')}
                                                {one.changes.length > 8 && ' …'}
                                            </p>
                                        )}
                                    </div>
                                    {i > 0 && mayPublish && (
                                        <Button aria-label={`Put back number ${one.number}`} onClick={() => setAsked(one)}>
                                            Put back
                                        </Button>
                                    )}
                                </li>
                            ))}
                        </ol>
                    </>
                )}
            </Waiting>
            <Question
                open={asked !== null}
                title={`Put number ${asked?.number} back?`}
                yes="Put it back"
                busy={putBack.isPending}
                error={putBack.error?.message}
                onYes={() => asked && putBack.mutate(asked.number, { onSuccess: () => setAsked(null) })}
                onNo={() => {
                    putBack.reset();
                    setAsked(null);
                }}
            >
                <p>
                    From their next page view on, visitors get what number {asked?.number} held
                    {asked && asked.experiments.length > 0 ? `: ${asked.experiments.join(', ')}` : ', without any experiment'}. It gets a
                    number of its own.
                </p>
                <p>It stays until something that is published is changed; what experiments are declared to be does not change with it.</p>
            </Question>
        </div>
    );
}
