import { Group } from '@visx/group';
import { scaleLinear } from '@visx/scale';
import { Area, LinePath } from '@visx/shape';
import { useState } from 'react';
import type { AuditViews } from '../../api/audits';
import { useSite } from '../../api/queries';
import { Axes } from '../../parts/charts/Axes';
import { Brush } from '../../parts/charts/Brush';
import { Figure } from '../../parts/charts/Figure';
import { BROKEN, dayTicks, FONT, INK, MARGIN, timeWords } from '../../parts/charts/frame';
import { Hatch } from '../../parts/charts/Hatch';
import { Points, type Point } from '../../parts/charts/Points';
import { Readout } from '../../parts/charts/Readout';
import { count, percent } from '../../parts/figures';
import { Moment } from '../../parts/Moment';
import { Table, type Column } from '../../parts/Table';
import { VARIANT_COLOURS, VariantMark } from '../../parts/VariantMark';
import type { ViewProps } from '../AuditPage';
import { useChoose } from '../part';

type Split = AuditViews['split'];
type Look = Split['looks'][number];

const HEIGHT = 250;

/** The share of each variant as it came about, between the bounds that the anytime-valid test leaves it. */
export function SplitView({ views, site }: ViewProps) {
    const { split } = views;
    if (split.looks.length === 0) {
        return (
            <p className="border-y border-line bg-leaf p-8 text-soft">Nobody was exposed to this experiment in this part of the data.</p>
        );
    }
    // Of two variants one tells all; of several the one that is farthest out comes first.
    const last = split.looks[split.looks.length - 1];
    const far = (i: number): number => Math.max(last.share[i] / Math.max(last.high[i], 1e-9), last.low[i] / Math.max(last.share[i], 1e-9));
    const shown = split.variants.length === 2 ? [1] : split.variants.map((_, i) => i).sort((a, b) => far(b) - far(a));

    return (
        <Figure title="Split over time" summary={summary(split)} table={<Looks split={split} />}>
            {(width) => shown.map((variant) => <Course key={variant} site={site} split={split} variant={variant} width={width} />)}
        </Figure>
    );
}

function summary(split: Split): string {
    const last = split.looks[split.looks.length - 1];
    const out = split.variants.filter((_, i) => isOut(last, i));

    return `${split.crossed ? `It left its bounds on ${split.crossed}.` : 'It never left its bounds.'} At the last look ${split.variants
        .map((key, i) => `${key} has ${percent(last.share[i])} of ${percent(split.epochs[last.epoch].weights[i])}`)
        .join(
            ', ',
        )}${out.length > 0 ? `; ${out.join(' and ')} outside` : ''}. Watched every day, p = ${split.p < 0.001 ? split.p.toExponential(1) : split.p.toFixed(3)}.`;
}

const isOut = (look: Look, variant: number): boolean => look.share[variant] < look.low[variant] || look.share[variant] > look.high[variant];

function Course({ site, split, variant, width }: { site: string; split: Split; variant: number; width: number }) {
    const zone = useSite(site).data?.time_zone ?? 'UTC';
    const choose = useChoose();
    const [looked, setLooked] = useState<Point | null>(null);
    const looks = split.looks.map((look) => ({ ...look, at: new Date(look.until).getTime() }));
    const [from, to] = [looks[0].at, Math.max(looks[looks.length - 1].at, looks[0].at + 3_600_000)];
    const inner = width - MARGIN.left - MARGIN.right;
    const height = HEIGHT - MARGIN.top - MARGIN.bottom;
    const x = scaleLinear<number>({ domain: [from, to], range: [0, inner] });
    const weights = split.epochs.map(({ weights }) => weights[variant]);
    // Early bounds are wide open: they need not be seen whole.
    const far = Math.max(
        0.02,
        ...looks.map((look) => 1.25 * Math.abs(look.share[variant] - weights[look.epoch])).slice(Math.floor(looks.length / 6)),
        ...looks.slice(Math.floor(looks.length / 3)).map((look) => Math.min(0.25, look.high[variant] - weights[look.epoch])),
    );
    const y = scaleLinear<number>({
        domain: [Math.max(0, Math.min(...weights) - far), Math.min(1, Math.max(...weights) + far)],
        range: [height, 0],
        clamp: true,
    });
    const colour = VARIANT_COLOURS[variant % VARIANT_COLOURS.length];
    const words = timeWords(zone, to - from);
    const epochs = [...new Set(looks.map(({ epoch }) => epoch))];
    const points = looks.map((look): Point => {
        const out = isOut(look, variant);
        const [px, py] = [x(look.at), y(look.share[variant])];

        return {
            key: `${look.epoch} ${look.until}`,
            x: px,
            y: py,
            words: `Until ${words(look.at)}: ${split.variants[variant]} ${count(look.visitors[variant])} of ${count(look.visitors.reduce((a, b) => a + b, 0))}, ${percent(look.share[variant], 2)}; bounds ${percent(look.low[variant], 2)} to ${percent(look.high[variant], 2)}${out ? ': outside' : ''}`,
            mark: out ? (
                <path d={`M${px - 4.5} ${py - 4.5}h9v9h-9Z`} fill={BROKEN} />
            ) : (
                <circle cx={px} cy={py} r={3} fill="#FFFFFF" stroke={colour} strokeWidth={1.6} />
            ),
        };
    });

    return (
        <>
            <p className="px-4 font-semibold">
                <VariantMark index={variant} />
                {split.variants[variant]}: share of the visitors of its epoch so far
            </p>
            <svg width={width} height={HEIGHT} role="group" aria-label={`Share of ${split.variants[variant]} over time`}>
                <Hatch id={`bounds-${variant}`} colour="#C9C5B8" />
                <Group left={MARGIN.left} top={MARGIN.top}>
                    {epochs.map((epoch) => {
                        const own = looks.filter((look) => look.epoch === epoch);
                        const begin = x(own[0].at);

                        return (
                            <g key={epoch}>
                                <Area
                                    data={own}
                                    x={(look) => x(look.at)}
                                    y0={(look) => y(look.low[variant])}
                                    y1={(look) => y(look.high[variant])}
                                    fill={`url(#bounds-${variant})`}
                                    stroke="#7A7F87"
                                    strokeWidth={0.8}
                                />
                                <line
                                    x1={begin}
                                    x2={x(own[own.length - 1].at)}
                                    y1={y(weights[epoch])}
                                    y2={y(weights[epoch])}
                                    stroke={INK}
                                    strokeDasharray="5 4"
                                />
                                {epoch > 0 && (
                                    <>
                                        <line x1={begin} x2={begin} y1={0} y2={height} stroke={INK} />
                                        <text x={begin + 4} y={10} {...FONT}>{`epoch ${epoch + 1}`}</text>
                                    </>
                                )}
                            </g>
                        );
                    })}
                    <Axes
                        x={x}
                        y={y}
                        xTicks={dayTicks(zone, from, to, Math.floor(inner / 80))}
                        xWords={words}
                        yWords={(value) => percent(value, y.domain()[1] - y.domain()[0] < 0.08 ? 1 : 0)}
                    />
                    <Brush
                        width={inner}
                        height={height}
                        chosen={null}
                        onBrush={(a, b) => choose({ since: hour(x.invert(a)), until: hour(x.invert(b)) })}
                    />
                    {epochs.map((epoch) => (
                        <LinePath
                            key={epoch}
                            data={looks.filter((look) => look.epoch === epoch)}
                            x={(look) => x(look.at)}
                            y={(look) => y(look.share[variant])}
                            stroke={colour}
                            strokeWidth={2.2}
                            pointerEvents="none"
                        />
                    ))}
                    <Points label={`Looks at ${split.variants[variant]}`} points={points} onLook={setLooked} />
                </Group>
            </svg>
            <Readout
                words={looked?.words ?? null}
                hint="Dashed: what was promised. Striped: what the test leaves it at any time. A filled square lies outside. Drag to look at a stretch."
            />
        </>
    );
}

const hour = (at: number): string => new Date(Math.round(at / 3_600_000) * 3_600_000).toISOString().replace('.000Z', 'Z');

function Looks({ split }: { split: Split }) {
    const columns: Column<Look>[] = [
        { key: 'until', head: 'Until', cell: (look) => <Moment at={look.until} />, sort: (look) => look.until },
        { key: 'epoch', head: 'Epoch', numeric: true, cell: (look) => look.epoch + 1 },
        ...split.variants.flatMap((key, i): Column<Look>[] => [
            { key: `n${i}`, head: `${key}`, numeric: true, cell: (look) => count(look.visitors[i]), sort: (look) => look.visitors[i] },
            { key: `s${i}`, head: 'share', numeric: true, cell: (look) => percent(look.share[i], 2), sort: (look) => look.share[i] },
            {
                key: `b${i}`,
                head: 'bounds',
                className: 'px-3 py-1 whitespace-nowrap',
                cell: (look) => (
                    <span className={isOut(look, i) ? 'font-semibold text-broken' : ''}>
                        {percent(look.low[i], 2)} to {percent(look.high[i], 2)}
                        {isOut(look, i) && ', outside'}
                    </span>
                ),
            },
        ]),
    ];

    return <Table label="Looks" columns={columns} rows={split.looks} rowKey={(look) => `${look.epoch} ${look.until}`} />;
}
