import type { Site } from '../api/client';
import { Button } from '../parts/Button';
import { RuleBuilder } from '../parts/RuleBuilder';
import { ADDRESS_FACTS, emptyRow, ruleOf, type RuleJson } from '../parts/ruleRows';
import { asPathRule } from '../parts/rules';
import { PathField } from './PathField';

interface Props {
    site: Site;
    pages: RuleJson;
    errors: Record<string, string>;
    onChange: (pages: RuleJson) => void;
}

/** On which pages: one path most of the time, a rule of any shape where that is not enough. */
export function PagesField({ site, pages, errors, onChange }: Props) {
    const path = asPathRule(pages);
    if (!path) {
        return (
            <RuleBuilder
                label="Pages"
                rule={pages}
                facts={ADDRESS_FACTS}
                hosts={site.hosts}
                errors={errors}
                path="pages"
                onChange={onChange}
            />
        );
    }
    const own = { ...emptyRow('url.path'), op: path.op, value: path.value };

    return (
        <>
            <PathField
                label="Path"
                hosts={site.hosts}
                op={path.op}
                path={path.value}
                error={errors['pages.value'] ?? errors.pages}
                onChange={(op, value) => onChange({ fact: 'url.path', op, value })}
            />
            <Button onClick={() => onChange(ruleOf({ join: 'any', rows: [own, emptyRow('url.path')] }))}>
                More conditions on the page
            </Button>
        </>
    );
}
