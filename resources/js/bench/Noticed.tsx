import { Link } from 'react-router';
import { useNotices, useNoticesSeen } from '../api/audits';
import { address, useSiteKey } from '../app/address';
import { noticeAddress } from '../notices/noticeAddress';
import { Grade } from '../audits/grades';
import { Button } from '../parts/Button';
import { plural } from '../parts/figures';
import { Moment } from '../parts/Moment';
import { held } from '../parts/words';

/** Troubles of running experiments, and decisions that are due: what is new since one last looked; nothing where there are none. */
export function Noticed() {
    const site = useSiteKey();
    const fresh = (useNotices(site).data ?? []).filter((one) => one.new);
    const seen = useNoticesSeen(site);
    if (fresh.length === 0) {
        return null;
    }

    return (
        <section aria-label="New since you last looked" className="mb-3 border border-ink bg-leaf">
            <div className="flex flex-wrap items-center gap-3 border-b border-line px-3 py-1.5">
                <h2 className="flex-1 font-semibold">New since you last looked: {plural(fresh.length, 'notice')}</h2>
                <Link to={address.notices(site)} className="text-accent underline underline-offset-4">
                    All notices
                </Link>
                <Button disabled={seen.isPending} onClick={() => seen.mutate()}>
                    I have seen {fresh.length === 1 ? 'it' : 'them'}
                </Button>
                {seen.error && (
                    <p role="alert" className="basis-full text-broken">
                        {seen.error.message}
                    </p>
                )}
            </div>
            <ul>
                {fresh.map((one) => (
                    <li key={one.notice} className="flex gap-2.5 border-b border-line px-3 py-1.5 last:border-b-0">
                        <span className="mt-0.5">
                            <Grade severity={one.severity} />
                        </span>
                        <p className="min-w-0">
                            {noticeAddress(site, one) === null ? (
                                one.name
                            ) : (
                                <Link
                                    to={noticeAddress(site, one) ?? ''}
                                    className="font-semibold text-accent underline-offset-4 hover:underline"
                                >
                                    {one.name}
                                </Link>
                            )}
                            : {held(one.message)}{' '}
                            <span className="text-sm text-soft">
                                <Moment at={one.at} />
                                {one.over && (
                                    <>
                                        , over since <Moment at={one.over} />
                                    </>
                                )}
                            </span>
                        </p>
                    </li>
                ))}
            </ul>
        </section>
    );
}
