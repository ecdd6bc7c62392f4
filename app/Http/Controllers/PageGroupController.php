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
        return response()->json($site->page_groups);
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
