import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { useDeletePage, useInspectPage, usePage } from '../api/wiring';
import { address, useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { Moment } from '../parts/Moment';
import { Question } from '../parts/Question';
import { StateMark } from '../parts/StateMark';
import { Waiting } from '../parts/Waiting';
import { Findings } from './Findings';

/** What is known of one page: the findings of its last inspection, and how it was before. */
export function PageDetail({ page, filter }: { page: number; filter: string }) {
    const site = useSiteKey();
    const navigate = useNavigate();
    const detail = usePage(site, page);
    const inspect = useInspectPage(site, page);
    const remove = useDeletePage(site, page);
    const [asked, setAsked] = useState(false);

    return (
        <section aria-label="Page" className="mb-4 border border-line bg-leaf p-4">
            <Waiting query={detail}>
                {(known) => (
                    <>
                        <div className="flex flex-wrap items-center gap-x-3 gap-y-2">
                            <StateMark state={known.state} size={20} />
                            <h2 className="min-w-0 font-mono text-sm font-semibold break-all">{known.url}</h2>
                            <span className="ml-auto flex gap-2">
                                <Button look="main" onClick={() => inspect.mutate(undefined)} disabled={inspect.isPending}>
                                    {inspect.isPending ? 'Inspecting…' : 'Inspect it now'}
                                </Button>
                                <Button look="danger" onClick={() => setAsked(true)}>
                                    Forget it
                                </Button>
                                <Button onClick={() => navigate(address.coverage(site) + filter)}>Close</Button>
                            </span>
                        </div>
                        {known.inspections.length === 0 && <p className="mt-2">Nobody has looked at it yet.</p>}
                        {known.inspections.slice(0, 1).map((one) => (
                            <div key={one.first_at} className="mt-3">
                                <p className="mb-2 text-soft">
                                    Found like this since <Moment at={one.first_at} seconds />, last <Moment at={one.last_at} seconds />
                                </p>
                                <Findings verdict={one.verdict} findings={one.findings} />
                            </div>
                        ))}
                        {known.inspections.length > 1 && (
                            <details>
                                <summary>How it was before</summary>
                                <ul>
                                    {known.inspections.slice(1).map((one) => (
                                        <li key={one.first_at}>
                                            <Moment at={one.first_at} /> to <Moment at={one.last_at} />: {one.verdict}
                                            {one.findings.length > 0 && <> ({one.findings.map((finding) => finding.code).join(', ')})</>}
                                        </li>
                                    ))}
                                </ul>
                            </details>
                        )}
                        <p className="mt-2 text-sm">
                            <Link to={address.groups(site)} className="text-accent underline underline-offset-4">
                                What must stand on it
                            </Link>{' '}
                            is told by {known.group ? `the group “${known.group}”` : 'no group: the snippet'}.
                        </p>
                        <Question
                            open={asked}
                            title="Forget this page?"
                            yes="Forget it"
                            danger
                            busy={remove.isPending}
                            onYes={() => remove.mutate(undefined, { onSuccess: () => navigate(address.coverage(site) + filter) })}
                            onNo={() => setAsked(false)}
                        >
                            <p>Its inspections are forgotten with it. The next search for pages may find it again.</p>
                        </Question>
                    </>
                )}
            </Waiting>
        </section>
    );
}
