export const VARIANT_COLOURS = ['#4A5568', '#0F6B8A', '#C77700', '#7B3F7D', '#4F7A28', '#9C4A2F'];
const SHAPES = [
    'M2 8h12',
    'M8 2.5 13.5 8 8 13.5 2.5 8Z',
    'M3 3h10v10H3Z',
    'M8 2 14 13H2Z',
    'M8 14 2 3h12Z',
    'M6 2h4v4h4v4h-4v4H6v-4H2V6h4Z',
];

/** A variant's colour and shape; the control's is a dashed line. */
export function VariantMark({ index }: { index: number }) {
    const colour = VARIANT_COLOURS[index % VARIANT_COLOURS.length];

    return (
        <svg viewBox="0 0 16 16" width="14" height="14" className="mr-2 inline-block shrink-0" aria-hidden="true">
            {index === 0 ? (
                <path d={SHAPES[0]} stroke={colour} strokeWidth="3" strokeDasharray="3.2 1.2" />
            ) : (
                <path d={SHAPES[index % SHAPES.length]} fill={colour} />
            )}
        </svg>
    );
}
