<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<title>Pellix</title>
<style>
body { margin: 0; padding: 24px; background: #F6F5F0; color: #1B2430; font: 16px/1.5 "Atkinson Hyperlegible Next", Verdana, sans-serif; }
main { max-width: 40em; margin: 0 auto; padding: 24px; background: #FFFFFF; border: 1px solid #D9D6CC; }
h1 { margin: 0 0 16px; font-size: 20px; }
h2 { margin: 24px 0 8px; font-size: 17px; }
p { margin: 0 0 12px; }
ul { margin: 0; padding: 0; list-style: none; }
li { padding: 8px 0; border-top: 1px solid #D9D6CC; }
a { color: #0F6B8A; }
.soft { color: #5A6472; font-size: 14px; }
</style>
</head>
<body><main>
@yield('words')
@isset($site)
<p class="soft">You look after {{ $site->name }}. What you are told, and when not, you choose under <a href="{{ $root }}/notices/settings">Notices</a>.</p>
@endisset
</main></body>
</html>
