import { useNavigate, useSearchParams } from 'react-router';
import { isUnderWay, useInstallations, useRehearsal, useRehearseInstallation } from '../api/rehearsals';
import { useRight } from '../api/queries';
import { address, useSiteKey } from '../app/address';
import { Button } from '../parts/Button';
import { useTitle } from '../parts/useTitle';
import { Waiting } from '../parts/Waiting';
import { WiringTabs } from '../wiring/WiringTabs';
import { Found } from './Found';
import { Progress } from './Progress';
import { Proven } from './Proven';
import { Runs } from './Runs';
import { Verdict } from './Verdict';

/** The main pages of a site with the snippet and without it: what a client asks before they allow the code onto their pages. */
export function InstallationPage() {
    const site = useSiteKey();
    const [search] = useSearchParams();
    const navigate = useNavigate();
    const mayWork = useRight(site) !== 'look';
    const runs = useInstallations(site);
    const ask = useRehearseInstallation(site);
    const run = (Number(search.get('run')) || null) ?? runs.data?.[0]?.rehearsal ?? null;
    const report = useRehearsal(site, run);
    useTitle('A/A rehearsal');

    return (
        <div className="mx-auto max-w-7xl px-5 py-4">
            <WiringTabs />
            <div className="mb-4 flex flex-wrap items-center gap-4">
                <h1 className="text-xl font-semibold">A/A rehearsal</h1>
                {mayWork && (
                    <Button
                        look="main"
                        disabled={ask.isPending || (runs.data ?? []).some(isUnderWay)}
                        onClick={() => ask.mutate(undefined, { onSuccess: (made) => navigate(address.installation(site, made.rehearsal)) })}
                    >
                        Rehearse now
                    </Button>
                )}
                {ask.error && (
                    <span role="alert" className="text-broken">
                        {ask.error.message}
                    </span>
                )}
            </div>
            <div className="grid gap-x-8 gap-y-6 lg:grid-cols-[minmax(0,7fr)_minmax(0,3fr)]">
                <div className="min-w-0 space-y-6">
                    {run === null
                        ? runs.isSuccess && (
                              <p className="max-w-2xl">
                                  It has not been rehearsed yet. A real browser opens the main pages of the site with the snippet and with
                                  it blocked, in pairs, and says what is different: errors, requests, looks and time. Nothing is tested
                                  meanwhile.
                              </p>
                          )
                        : null}
                    {run !== null && (
                        <Waiting query={report}>
                            {(found) => (
                                <>
                                    <Verdict site={site} report={found} />
                                    {isUnderWay(found) && <Progress site={site} report={found} mayCancel={mayWork} />}
                                    <Found site={site} report={found} />
                                    <Differences
                                        site={site}
                                        run={found.rehearsal}
                                        files={found.files.map(({ name }) => name)}
                                        pages={found.steps}
                                    />
                                    <Proven report={found} />
                                </>
                            )}
                        </Waiting>
                    )}
                </div>
                <div className="min-w-0">
                    <Waiting query={runs}>{(all) => <Runs site={site} all={all} chosen={run} />}</Waiting>
                </div>
            </div>
        </div>
    );
}

/** Pages that look different, with the differences outlined. */
function Differences({ site, run, files, pages }: { site: string; run: number; files: string[]; pages: string[] }) {
    const outlined = files.filter((name) => name.startsWith('difference-page-'));

    return outlined.length === 0 ? null : (
        <section aria-label="Pictures" className="space-y-3">
            <h3 className="font-semibold">Where it looks different</h3>
            {outlined.map((name) => (
                <figure key={name}>
                    <img loading="lazy" src={address.rehearsalFile(site, run, name)} alt={name} className="max-h-96 border border-line" />
                    <figcaption className="text-sm text-soft">{pages[Number(/\d+/.exec(name)?.[0] ?? 0)]}</figcaption>
                </figure>
            ))}
        </section>
    );
}
