<?php

namespace App\Http\Controllers;

use App\Http\Requests\ListPagesRequest;
use App\Http\Resources\PageResource;
use App\Inventory\Coverage;
use App\Inventory\CoverageFigures;
use App\Inventory\Inventory;
use App\Inventory\PageInspector;
use App\Logbook\Logbook;
use App\Models\Page;
use App\Models\Site;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Pellix\Core\Vocabulary\Thing;
use Symfony\Component\HttpFoundation\StreamedResponse;

/** The page inventory, and which of the required code stands on each page. */
class PageController extends Controller
{
    private const MOST_SEEN = 200;

    public function __construct(private readonly Inventory $inventory, private readonly CoverageFigures $figures, private readonly Logbook $logbook)
    {
    }

    public function index(ListPagesRequest $request, Site $site): JsonResponse
    {
        return response()->json(Coverage::of($site)->list($request->filters(), $request->integer('page', 1)));
    }

    public function export(ListPagesRequest $request, Site $site): StreamedResponse
    {
        $coverage = Coverage::of($site);

        return response()->streamDownload(static fn () => $coverage->writeCsv($request->filters(), 'php://output'), "{$site->key}-coverage.csv", [
            'Content-Type' => 'text/csv; charset=utf-8; header=present',
        ]);
    }

    /** What events came from, for a person to say which of it are pages. */
    public function seen(Site $site): JsonResponse
    {
        return response()->json(['addresses' => $this->inventory->seen($site, self::MOST_SEEN)]);
    }

    public function store(Request $request, Site $site): JsonResponse
    {
        $addresses = $request->validate(
            ['addresses' => ['required', 'string', 'max:1000000']],
            ['addresses.required' => 'Type or paste addresses or paths, one a line.'],
        )['addresses'];

        $added = $this->inventory->addTyped($site, $addresses);
        $this->logbook->note($site->id, Thing::Page, 'typed', 'Pages', 'added', note: "{$added['added']} typed or pasted.");
        $this->figures->refresh($site);

        return response()->json($added, 201);
    }

    public function show(Site $site, Page $page): PageResource
    {
        return new PageResource($page);
    }

    public function destroy(Site $site, Page $page): Response
    {
        $page->delete();
        $this->logbook->note($site->id, Thing::Page, (string) $page->id, $page->url, 'deleted');
        $this->figures->refresh($site);

        return response()->noContent();
    }

    public function inspect(Site $site, Page $page, PageInspector $inspector): PageResource
    {
        $inspector->inspect($site, $page);
        $this->figures->refresh($site);

        return new PageResource($page->refresh());
    }
}
