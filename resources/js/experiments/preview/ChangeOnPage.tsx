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
}

/** Opens a page of the experiment, where the variant is changed by pointing at things. */
export function ChangeOnPage({ site, experiment, draft, variant }: Props) {
    const page = useOnPage(site.key);

    return (
        <>
            <Button
                disabled={page.isPending}
                aria-label={`Change ${variant.name || variant.key} on the page`}
                onClick={() =>
                    page.open({
                        purpose: 'change',
                        experiment,
                        variant: variant.key,
                        url: firstPage(draft.pages, site.demo_origin ?? `https://${site.hosts[0]}`),
                    })
                }
            >
                Change it on the page
            </Button>
            {page.error && (
                <span role="alert" className="text-sm text-broken">
                    {page.error.message}
                </span>
            )}
        </>
    );
}
