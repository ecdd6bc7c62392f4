<h1>About the library</h1>
<p class="lead">Larkhollow began with eleven violins that nobody had played since the flood. There are three hundred and six instruments now.</p>
<p>The newest of them is a <a href="/catalogue/quill-dulcimer">dulcimer</a>; the oldest, a horn, is older than the house. Or take
    <a href="/catalogue-evening">the evening shelves</a>.</p>
<?php return 'About';
