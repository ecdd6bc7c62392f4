import { useDifferences } from '../api/rehearsals';
import { address } from '../app/address';
import { Moment } from '../parts/Moment';
import { Waiting } from '../parts/Waiting';
import { FindingList } from './Found';

/** What broke and what was mended since an earlier rehearsal, picture beside picture. */
export function Compared({ site, run, against }: { site: string; run: number; against: number }) {
    const differences = useDifferences(site, run, against);

    return (
        <section aria-label="Compared" className="space-y-3 border-y border-line py-4">
            <Waiting query={differences}>
                {({ before, broke, mended, stayed, pictures }) => (
                    <>
                        <h3 className="font-semibold">
                            Since <Moment at={before.started ?? before.asked} />: {broke.length} new, {mended.length} mended,{' '}
                            {stayed.length} as before
                        </h3>
                        {broke.length > 0 && (
                            <div>
                                <h4 className="mb-1">New</h4>
                                <FindingList site={site} findings={broke} />
                            </div>
                        )}
                        {mended.length > 0 && (
                            <div>
                                <h4 className="mb-1">Mended</h4>
                                <FindingList site={site} findings={mended} />
                            </div>
                        )}
                        <div className="grid gap-3 md:grid-cols-2">
                            {pictures
                                .filter((name) => name.startsWith('look-'))
                                .flatMap((name) =>
                                    [against, run].map((one) => (
                                        <figure key={`${one} ${name}`}>
                                            <img
                                                loading="lazy"
                                                src={address.rehearsalFile(site, one, name)}
                                                alt={`${name}, ${one === run ? 'now' : 'before'}`}
                                                className="max-h-96 w-full border border-line object-contain object-top"
                                            />
                                            <figcaption className="text-sm text-soft">
                                                {one === run ? 'now' : 'before'} · {name.replace(/^look-|\.png$/g, '')}
                                            </figcaption>
                                        </figure>
                                    )),
                                )}
                        </div>
                    </>
                )}
            </Waiting>
        </section>
    );
}
