<!DOCTYPE html>
<html lang="en">
<head>
    <meta charset="utf-8">
    <meta name="viewport" content="width=device-width, initial-scale=1">
    <meta name="robots" content="noindex, nofollow">
    <title>Brief: {{ $brief->experiment }}</title>
    @include('brief.style')
</head>
<body>
<main>
    <h1>To be built into {{ $brief->site }}: “{{ $brief->variant }}”</h1>
    <p class="soft">From {{ $brief->author }}. As of {{ $brief->now->format('j M Y, H:i') }} ({{ $brief->zone }}); the link works until {{ $brief->expires->format('j M Y') }}.
        @unless ($download)
            Download as <a href="/brief/{{ $brief->token }}.md">Markdown</a> or <a href="/brief/{{ $brief->token }}.html">HTML</a>.
        @endunless
    </p>
    <p>The experiment “{{ $brief->experiment }}” has ended. @if ($brief->isServed) Until the site shows this itself, a script serves it to everybody: that is slower, and breaks when the page changes. @endif</p>
    @if ($brief->message !== '')
        <p style="white-space: pre-line">{{ $brief->message }}</p>
    @endif

    <h2>1. What is to be changed</h2>
    @if ($brief->target !== null)
        <p>The page at <code>{{ $brief->target }}</code> takes the place of the pages below.</p>
    @endif
    @if ($brief->changes !== [])
        <table>
            <thead><tr><th>Where</th><th>What</th><th>Before</th><th>After</th></tr></thead>
            <tbody>
            @foreach ($brief->changes as $change)
                <tr><td><code>{{ $change['selector'] !== '' ? $change['selector'] : 'the whole page' }}</code></td><td>{{ $change['kind'] }}</td><td><code>{{ $change['before'] ?? 'not known' }}</code></td><td><code>{{ $change['after'] }}</code></td></tr>
            @endforeach
            </tbody>
        </table>
    @endif

    <h2>2. On which pages, and how far it is</h2>
    <p><span class="figure">{{ $brief->taken }} of {{ $brief->known }}</span> known pages show it themselves, as far as their HTML tells. Reload this page to see how it stands: pages are looked at again at the latest with the daily scan.</p>
    <table>
        <thead><tr><th>Page</th><th>State</th></tr></thead>
        <tbody>
        @foreach ($brief->pages as $page)
            <tr><td>{{ $page['url'] }}</td><td>{{ $page['state'] }}</td></tr>
        @endforeach
        </tbody>
    </table>

    <h2>3. How to take the experiment away</h2>
    <ol>
        <li>Build the change into the templates of these pages.</li>
        <li>When every page above shows it itself, tell {{ $brief->author }}, who stops serving it. Until then nobody notices a difference; after that the snippet does nothing on these pages any more.</li>
        <li>Nothing else of the experiment is in the site: the snippet stays, it is for all experiments. The visitors' cookie forgets the experiment by itself.</li>
    </ol>
</main>
</body>
</html>
