import { useSiteSettings } from '../api/sites';
import { useSiteKey } from '../app/address';
import { Moment } from '../parts/Moment';

/** Since when a setting of the site is as it is. */
export function Since({ of }: { of: string }) {
    const settings = useSiteSettings(useSiteKey()).data;

    return settings ? (
        <span className="text-sm text-soft">
            As it is since <Moment at={settings.since[of] ?? settings.made_at} />.
        </span>
    ) : null;
}
