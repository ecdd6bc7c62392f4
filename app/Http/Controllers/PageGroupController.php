<?php

namespace App\Http\Controllers;

use App\Inventory\CoverageFigures;
use App\Inventory\Inventory;
use App\Models\Site;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Formats\Fields;
use Pellix\Core\Wiring\Inspection\PageGroup;
use Pellix\Core\Wiring\InvalidWiring;

/** The groups that pages are sorted into, and what must stand on the pages of each. */
class PageGroupController extends Controller
{
    private const MOST = 50;

    public function index(Site $site): JsonResponse
    {
        return response()->json(array_map(static function (mixed $group): array {
            try {
                return PageGroup::read($group)->toArray();
            } catch (InvalidWiring $e) {
                // It was kept once and cannot be read any more: no page belongs to it until somebody has mended it.
                return ['name' => '', 'pages' => ['all' => []], 'snippet' => true, 'guard' => null, 'unlinked' => false, 'tags' => [], ...self::known($group), 'fault' => "{$e->field}: {$e->getMessage()}"];
            }
        }, array_values($site->page_groups)));
    }

    /** @return array<string, mixed> what of a group can be shown that cannot be read */
    private static function known(mixed $group): array
    {
        return array_filter([
            'name' => is_string($group['name'] ?? null) ? $group['name'] : null,
            'pages' => is_array($group['pages'] ?? null) ? $group['pages'] : null,
        ]);
    }

    public function update(Request $request, Site $site, Inventory $inventory, CoverageFigures $figures): JsonResponse
    {
        $json = $request->validate(['groups' => ['present', 'array', 'list', 'max:'.self::MOST], 'groups.*' => ['array']])['groups'];
        $groups = [];
        try {
            foreach ($json as $i => $group) {
                $read = Fields::within("groups.{$i}", static fn (): PageGroup => PageGroup::read($group), InvalidWiring::class);
                if (isset($groups[$read->name])) {
                    throw new InvalidWiring('An earlier group has this name.', "groups.{$i}.name");
                }
                $groups[$read->name] = $read->toArray();
            }
        } catch (InvalidWiring $e) {
            throw ValidationException::withMessages([$e->field => $e->getMessage()]);
        }
        $site->update(['page_groups' => array_values($groups)]);
        $inventory->regroup($site);
        $figures->refresh($site);

        return response()->json($site->page_groups);
    }
}
