import type { Site } from '../api/client';
import { Choice } from '../parts/Choice';
import { RuleBuilder } from '../parts/RuleBuilder';
import { VISITOR_FACTS, type RuleJson } from '../parts/ruleRows';

interface Props {
    site: Site;
    audience: RuleJson | null;
    errors: Record<string, string>;
    onChange: (audience: RuleJson | null) => void;
}

const FIRST: RuleJson = { fact: 'device', op: 'is', value: 'mobile' };

/** Who may enter: everybody, or those of whom a rule holds. */
export function AudienceField({ site, audience, errors, onChange }: Props) {
    return (
        <>
            <div className="w-72">
                <Choice
                    label="Who may enter"
                    value={audience ? 'some' : 'everybody'}
                    options={[
                        { value: 'everybody', label: 'everybody who views the page' },
                        { value: 'some', label: 'only visitors of whom this holds' },
                    ]}
                    onChange={(who) => onChange(who === 'some' ? FIRST : null)}
                />
            </div>
            {audience && (
                <RuleBuilder
                    label="Audience"
                    rule={audience}
                    facts={VISITOR_FACTS}
                    hosts={site.hosts}
                    errors={errors}
                    path="audience"
                    onChange={onChange}
                />
            )}
        </>
    );
}
