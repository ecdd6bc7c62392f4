<!DOCTYPE html>
<html lang="en">
<head>
    <meta charset="utf-8">
    <meta name="viewport" content="width=device-width, initial-scale=1">
    <meta name="robots" content="noindex, nofollow">
    <title>Brief: code for {{ $brief->site }}</title>
    @include('brief.style')
</head>
<body>
<main>
    <h1>Code to put onto {{ $brief->site }}</h1>
    <p class="soft">From {{ $brief->author }}. As of {{ $brief->now->format('j M Y, H:i') }} ({{ $brief->zone }}); the link works until {{ $brief->expires->format('j M Y') }}.
        @unless ($download)
            Download as <a href="/brief/{{ $brief->token }}.md">Markdown</a> or <a href="/brief/{{ $brief->token }}.html">HTML</a>.
        @endunless
    </p>
    @if ($brief->message !== '')
        <p style="white-space: pre-line">{{ $brief->message }}</p>
    @endif

    <h2>1. The code, in this order</h2>
    <p>All of it goes into the <code>&lt;head&gt;</code>, before other scripts and style sheets, exactly as it stands here: no curly quotes, no line cut off.</p>
    @foreach ($brief->codes as $code)
        <h3>{{ $code['name'] }}</h3>
        <pre>{{ $code['text'] }}</pre>
    @endforeach

    <h2>2. Which pages get what</h2>
    <table>
        <thead><tr><th>Pages</th><th>How many are known</th><th>What must stand there</th></tr></thead>
        <tbody>
        @foreach ($brief->groups as $group)
            <tr><td>{{ $group['name'] }}</td><td>{{ $group['total'] }}</td><td>{{ implode('; ', $group['must']) }}</td></tr>
        @endforeach
        </tbody>
    </table>

    <h2>3. What is still missing</h2>
    <p><span class="figure">{{ $brief->sound }} of {{ $brief->total }}</span> known pages have what they must have. Reload this page to see how it stands.</p>
    @if ($brief->open !== [])
        <table>
            <thead><tr><th>Page</th><th>State</th><th>Missing or broken</th><th>Looked at</th></tr></thead>
            <tbody>
            @foreach ($brief->open as $page)
                <tr><td>{{ $page['url'] }}</td><td>{{ $page['state'] }}</td><td>{{ implode(', ', $page['missing']) }}</td><td>{{ $page['at']?->format('j M, H:i') ?? 'never' }}</td></tr>
            @endforeach
            </tbody>
        </table>
        @if ($brief->openTotal > count($brief->open))
            <p class="soft">{{ $brief->openTotal - count($brief->open) }} more are not listed here.</p>
        @endif
    @endif

    <h2>4. How to check it</h2>
    <ol>
        <li>View the source of the page, not the inspector: the code must stand in the head as it stands above.</li>
        <li>Open the page in a browser with its network panel open. There must be one request for <code>{{ $brief->origin }}/s/….js</code> and, within a second, one to <code>{{ $brief->origin }}/c</code> that answers 200.</li>
        <li>The list above turns when the page has been inspected again, at the latest with the daily scan.</li>
    </ol>

    <h2>5. What it does to speed and privacy</h2>
    <ul>
        <li>The snippet loads one file of under 12 KB (packed) without holding the page up. If that file cannot be had, the page works as if there were no snippet.</li>
        @if (count($brief->codes) > 1)
            <li>The flicker guard hides the body until the changes are made, and never longer than the time that stands in it.</li>
        @endif
        <li>Two first-party cookies are kept: a random visitor id and the variants that the visitor was given. Nothing is read from forms, and no address or name is sent.</li>
        <li>Under a Content-Security-Policy add <code>{{ $brief->origin }}</code> to <code>script-src</code> and <code>connect-src</code>, and a nonce for the inline part.</li>
    </ul>
</main>
</body>
</html>
