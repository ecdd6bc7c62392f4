import { Group } from '@visx/group';
import { scaleLinear } from '@visx/scale';
import { useState } from 'react';
import type { AuditViews, Behind } from '../../api/audits';
import { Figure } from '../../parts/charts/Figure';
import { BROKEN, FONT, INK } from '../../parts/charts/frame';
import { Hatch } from '../../parts/charts/Hatch';
import { Points, type Point } from '../../parts/charts/Points';
import { Readout } from '../../parts/charts/Readout';
import { count, percent } from '../../parts/figures';
import { Table, type Column } from '../../parts/Table';
import { VARIANT_COLOURS } from '../../parts/VariantMark';
import type { ViewProps } from '../AuditPage';
import { NumberLink } from '../NumberLink';

type Stages = AuditViews['stages'];
type Row = Stages['rows'][number];

const BAR = 20;
const GAP = 26;
const NAMES = 270;

/** The visitors' way, stage by stage, of each variant; the first stage at which the split is off is marked. */
export function StagesView({ views }: ViewProps) {
    const { stages } = views;
    if (stages.rows.length === 0) {
        return <p className="border-y border-line bg-leaf p-8 text-soft">No stage of the visitors’ way is known of this part.</p>;
    }

    return (
        <Figure title="Stages" summary={summary(stages)} table={<AllStages stages={stages} />}>
            {(width) => <Funnel stages={stages} width={width} />}
        </Figure>
    );
}

function summary({ rows, first_break }: Stages): string {
    const broken = rows.find(({ stage }) => stage === first_break);

    return broken
        ? `The split is first off among those ${broken.words} (p ${p(broken.p)}).`
        : `At each of ${rows.length} stages the visitors split as promised.`;
}

const p = (value: number): string => (value < 0.001 ? value.toExponential(1) : value.toFixed(3));

function Funnel({ stages, width }: { stages: Stages; width: number }) {
    const [looked, setLooked] = useState<Point | null>(null);
    const names = Math.min(NAMES, width * 0.4);
    const x = scaleLinear<number>({
        domain: [0, Math.max(1, ...stages.rows.flatMap(({ observed }) => observed))],
        range: [0, width - names - 170],
    });
    const each = stages.variants.length * BAR + GAP;
    const points = stages.rows.flatMap((row, i) =>
        stages.variants.map((key, v): Point => {
            const top = i * each + v * BAR + 6;
            const length = Math.max(1, x(row.observed[v]));
            const part = row.of_before?.[v] ?? null;

            return {
                key: `${row.stage} ${key}`,
                x: names + 6,
                y: top + BAR / 2 - 2,
                words: `${key}, ${row.words}: ${count(row.observed[v])}${part === null ? '' : `, ${percent(part)} of the stage before`}; split p ${p(row.p)}${row.off ? ': off' : ''}`,
                mark: (
                    <g>
                        <rect
                            x={names}
                            y={top}
                            width={length}
                            height={BAR - 4}
                            fill={v === 0 ? 'url(#control-bar)' : VARIANT_COLOURS[v % VARIANT_COLOURS.length]}
                            stroke={VARIANT_COLOURS[v % VARIANT_COLOURS.length]}
                        />
                        <text x={names + length + 6} y={top + BAR / 2 + 2} {...FONT} fill={INK}>
                            {`${key} ${count(row.observed[v])}${part === null ? '' : ` · ${percent(part)}`}`}
                        </text>
                    </g>
                ),
            };
        }),
    );

    return (
        <>
            <svg width={width} height={stages.rows.length * each + 14} role="group" aria-label="Visitors at each stage">
                <Hatch id="control-bar" colour={VARIANT_COLOURS[0]} turned={-45} />
                <Group top={14}>
                    {stages.rows.map((row, i) => (
                        <g key={row.stage}>
                            <text
                                x={names - 10}
                                y={i * each + (stages.variants.length * BAR) / 2 + 8}
                                textAnchor="end"
                                {...FONT}
                                fontSize={13}
                                fill={INK}
                                fontWeight={row.off ? 700 : 400}
                            >
                                {row.words.length > names / 7 ? `${row.words.slice(0, Math.floor(names / 7) - 1)}…` : row.words}
                            </text>
                            {row.stage === stages.first_break && (
                                <>
                                    <line
                                        x1={0}
                                        x2={width}
                                        y1={i * each - 3}
                                        y2={i * each - 3}
                                        stroke={BROKEN}
                                        strokeWidth={2}
                                        strokeDasharray="8 4"
                                    />
                                    <text x={names} y={i * each - 6} {...FONT} fill={BROKEN} fontWeight={700}>
                                        the split breaks here
                                    </text>
                                </>
                            )}
                        </g>
                    ))}
                    <Points label="Stages" points={points} onLook={setLooked} />
                </Group>
            </svg>
            <Readout words={looked?.words ?? null} hint="In percent: of those at the stage before." />
        </>
    );
}

function AllStages({ stages }: { stages: Stages }) {
    const columns: Column<Row>[] = [
        { key: 'stage', head: 'Stage', wide: true, cell: (row) => row.words },
        ...stages.variants.flatMap((key, i): Column<Row>[] => [
            {
                key: `n${i}`,
                head: key,
                numeric: true,
                cell: (row) => (
                    <NumberLink behind={row.stage as Behind} variant={key}>
                        {count(row.observed[i])}
                    </NumberLink>
                ),
            },
            { key: `b${i}`, head: 'of before', numeric: true, cell: (row) => percent(row.of_before?.[i] ?? null) },
        ]),
        {
            key: 'p',
            head: 'p of the split',
            numeric: true,
            cell: (row) => <span className={row.off ? 'font-semibold text-broken' : ''}>{p(row.p)}</span>,
        },
    ];

    return <Table label="Stages" columns={columns} rows={stages.rows} rowKey={(row) => row.stage} />;
}
