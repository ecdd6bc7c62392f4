<?php

declare(strict_types=1);

namespace App\Rehearsals\Parts;

use App\Rehearsals\Comparison;
use App\Rehearsals\Outcome;
use App\Rehearsals\Stage;
use Pellix\Core\Chain\Link;
use Pellix\Core\Rehearsal\CheckCode;
use Pellix\Core\Rehearsal\Finding;
use Pellix\Core\Rehearsal\Pictures;

/** Every variant beside the control, on every screen: what is different, and what of that nobody has declared. */
final readonly class ScreensPart implements Part
{
    public function play(Stage $stage, ?string $variant): Outcome
    {
        $outcome = new Outcome();
        $control = $stage->control()->variant->key;
        $known = $stage->figures('look', $control);
        foreach ($stage->variants() as $declared) {
            $key = $declared->variant->key;
            if ($key === $control || $declared->target !== null) {
                continue;
            }
            foreach ($stage->screens() as $screen) {
                $stage->say("“{$declared->name}” beside the control on {$screen->label()}");
                $pictures = array_map($stage->file(...), ["look-{$control}-{$screen->value}.png", "again-{$control}-{$screen->value}.png", "look-{$key}-{$screen->value}.png"]);
                if (in_array(null, $pictures, true)) {
                    continue;
                }
                $found = Comparison::of($pictures, $stage->folder());
                $stage->keep("difference-{$key}-{$screen->value}.png", 'image/png', $found['picture']);
                $own = $stage->figures('look', $key)[$screen->value] ?? [];
                $unexpected = Pictures::unexpected($found['boxes'], [...$own['changed'] ?? [], ...$known[$screen->value]['changed'] ?? []], $known[$screen->value]['places'] ?? [], $own['places'] ?? []);
                $outcome->figures["{$key}-{$screen->value}"] = ['pixels' => $found['pixels'], 'boxes' => count($found['boxes']), 'unexpected' => $unexpected];
                if ($unexpected !== []) {
                    $named = array_map(static fn (array $one): string => "{$one['element']} ({$one['box'][2]} × {$one['box'][3]} at {$one['box'][0]}, {$one['box'][1]})", array_slice($unexpected, 0, 3));
                    $outcome->found(new Finding(CheckCode::ScreenUnexpected, "“{$declared->name}” also looks different from the control where nothing was declared: ".implode('; ', $named).(count($unexpected) > 3 ? ' and '.(count($unexpected) - 3).' more' : '').'.', 'Something moves along with the change, or the page shows other content each time.', 'Look at the outlined picture, and see whether it is meant.', $key, $screen));
                } else {
                    $outcome->proven(Link::Exposure, $found['boxes'] === [] ? 'Looks like the control on this screen, as far as it is seen without scrolling.' : 'Looks different from the control only where it was changed.', $key, $screen);
                }
            }
        }

        return $outcome;
    }
}
