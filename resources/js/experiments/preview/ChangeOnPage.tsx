import type { Site } from '../../api/client';
import { Button } from '../../parts/Button';
import type { Draft, DraftVariant } from '../draft';
import { firstPage } from './firstPage';
import { useOnPage } from './useOnPage';

interface Props {
    site: Site;
    experiment: string;
    draft: Draft;
    variant: DraftVariant;
    /** A page of the experiment that has been inspected: where the snippet is not on it yet, its copy is changed. */
    inspected: string | undefined;
}

/** Opens a page of the experiment, where the variant is changed by pointing at things. */
export function ChangeOnPage({ site, experiment, draft, variant, inspected }: Props) {
    const page = useOnPage(site.key);
    const asked = { purpose: 'change' as const, experiment, variant: variant.key };

    return (
        <>
            <Button
                disabled={page.isPending}
                aria-label={`Change it on the page: ${variant.name || variant.key}`}
                onClick={() => page.open({ ...asked, url: firstPage(draft.pages, site.demo_origin ?? `https://${site.hosts[0]}`) })}
            >
                Change it on the page
            </Button>
            {inspected && (
                <Button
                    disabled={page.isPending}
                    title="As it was inspected: where the snippet is not on the page yet"
                    aria-label={`On a copy: ${variant.name || variant.key}`}
                    onClick={() =>
                        page.open(
                            { ...asked, url: inspected },
                            undefined,
                            `/sites/${site.key}/loupe-copy?url=${encodeURIComponent(inspected)}`,
                        )
                    }
                >
                    On a copy
                </Button>
            )}
            {page.error && (
                <span role="alert" className="text-sm text-broken">
                    {page.error.message}
                </span>
            )}
        </>
    );
}
