<?php

namespace App\Http\Controllers;

use App\Http\Resources\PageResource;
use App\Http\Resources\SiteResource;
use App\Http\Resources\SiteSettingsResource;
use App\Inventory\CoverageFigures;
use App\Inventory\Inventory;
use App\Inventory\PageInspector;
use App\Models\Site;
use App\Sites\Beginnings;
use App\Sites\HostCheck;
use App\Sites\SiteExport;
use App\Sites\SiteRemover;
use App\Sites\SiteStore;
use Illuminate\Http\JsonResponse;
use Illuminate\Http\Request;
use Illuminate\Http\Response;
use Illuminate\Validation\ValidationException;
use Pellix\Core\Beginning\FirstSteps;
use Pellix\Core\Sites\Host;
use Pellix\Core\Sites\InvalidSite;
use Pellix\Core\Sites\SiteDraft;

/** Sites: made, changed, archived; and how far a new one has come. */
class SiteController extends Controller
{
    private const HOSTS_AT_ONCE = 5;

    public function __construct(private readonly SiteStore $store)
    {
    }

    public function show(Site $site): SiteResource
    {
        return new SiteResource($site);
    }

    public function store(Request $request): JsonResponse
    {
        self::mayMake($request);

        return (new SiteResource($this->store->make(self::draft($request), $request->user())))->response()->setStatusCode(201);
    }

    /** Whether hosts answer: looked at when somebody asks, before a site is made or changed. */
    public function checkHosts(Request $request, HostCheck $check): JsonResponse
    {
        $request->user()->makes_sites || $request->user()->sites()->wherePivot('right', 'own')->exists() || abort(403, 'Only whoever makes sites, or owns one, may ask this.');
        $typed = $request->validate(['hosts' => ['required', 'array', 'list', 'max:'.self::HOSTS_AT_ONCE], 'hosts.*' => ['required', 'string', 'max:300']])['hosts'];
        $hosts = array_map(static fn (string $one, int $i): string => self::read(static fn (): string => Host::read($one, "hosts.{$i}")), $typed, array_keys($typed));

        return response()->json(array_map($check->of(...), $hosts, $typed));
    }

    public function settings(Site $site): SiteSettingsResource
    {
        return new SiteSettingsResource($site);
    }

    public function update(Request $request, Site $site): SiteSettingsResource
    {
        return new SiteSettingsResource($this->store->change($site, self::draft($request)));
    }

    public function archive(Site $site): Response
    {
        $this->store->archive($site);

        return response()->noContent();
    }

    public function unarchive(Site $site): Response
    {
        $this->store->restore($site);

        return response()->noContent();
    }

    /** What was declared on the site, as one file; its events are given out by `bin/pellix site KEY --events=FILE`. */
    public function export(Site $site): JsonResponse
    {
        return response()->json((new SiteExport($site))->declared(), 200, ['Content-Disposition' => "attachment; filename=\"{$site->key}.json\""], JSON_PRETTY_PRINT | JSON_UNESCAPED_SLASHES | JSON_UNESCAPED_UNICODE | JSON_PRESERVE_ZERO_FRACTION);
    }

    /** Deletes an archived site with everything: nobody sees it any more, and its rows are gone after a while. */
    public function destroy(Request $request, Site $site, SiteRemover $remover): Response
    {
        $name = $request->validate(['name' => ['required', 'string', 'max:200']])['name'];
        $site->archived_at !== null || throw ValidationException::withMessages(['name' => 'Archive the site first: then nothing of it is on its pages any more.']);
        $name === $site->name || throw ValidationException::withMessages(['name' => "Type the name of the site as it is written: {$site->name}"]);
        $remover->ask($site);

        return response()->noContent(202);
    }

    public function firstSteps(Site $site, Beginnings $beginnings): JsonResponse
    {
        return response()->json(array_map(static fn (array $one): array => [
            'step' => $one['step']->value, 'label' => $one['step']->label(), 'state' => $one['state']->value, 'words' => $one['words'], 'at' => $one['at']?->format('Y-m-d\TH:i:s.v\Z'),
        ], FirstSteps::of($beginnings->of($site))));
    }

    /** Takes a page among those that are known, and inspects it at once. */
    public function provePage(Request $request, Site $site, Inventory $inventory, PageInspector $inspector, CoverageFigures $figures): PageResource
    {
        $url = $request->validate(['url' => ['required', 'string', 'max:1900', 'not_regex:/\R/']])['url'];
        $refused = $inventory->addTyped($site, $url)['refused'];
        $refused === [] || throw ValidationException::withMessages(['url' => $refused[0]['why']]);
        $page = $inventory->known($site, $url) ?? throw ValidationException::withMessages(['url' => 'This is no address of a page.']);
        $inspector->inspect($site, $page);
        $figures->refresh($site);

        return new PageResource($page->refresh());
    }

    private static function mayMake(Request $request): void
    {
        abort_unless($request->user()->makes_sites, 403, 'Whoever runs this copy of Pellix says who makes sites. Ask somebody who does.');
    }

    private static function draft(Request $request): SiteDraft
    {
        return self::read(static fn (): SiteDraft => SiteDraft::read($request->all()));
    }

    /**
     * @template T
     *
     * @param \Closure(): T $read
     *
     * @return T
     */
    private static function read(\Closure $read): mixed
    {
        try {
            return $read();
        } catch (InvalidSite $e) {
            throw ValidationException::withMessages([$e->field => $e->getMessage()]);
        }
    }
}
