#!/usr/bin/env python3
"""Makes event_rules.json: rules on events with the answer of an implementation of its own, from a fixed seed.

Run in this folder: python3 make_rules.py > event_rules.json
"""
import json
import random
import re
import urllib.parse

random.seed(20260302)

PATHS = ["/", "/join", "/join/", "/Join", "/join/done", "/caf%C3%A9", "/caf%c3%a9", "/café", "/a%2Fb", "/%7Euser", "/~user", "/a b", "/order/17/done", "/order/x/done", ""]
QUERIES = ["", "?", "?id=7", "?id=", "?id", "?ID=7", "?id=7&id=8", "?q=a+b", "?q=a%20b", "?q=%zz", "?x=%C3%A9"]
FRAGMENTS = ["", "#", "#done", "#/view"]
HOSTS = ["a.test", "A.TEST:80", "desk.a.test", "u:p@a.test"]
AGENTS = [None, "Mozilla/5.0 (iPhone; CPU iPhone OS 18_5 like Mac OS X) AppleWebKit/605.1.15 Version/18.5 Mobile/15E148 Safari/604.1",
          "Mozilla/5.0 (X11; Linux x86_64; rv:141.0) Gecko/20100101 Firefox/141.0"]
PROPS = [{}, {"n": 5}, {"n": 5.5}, {"n": "5"}, {"n": True}, {"n": None}, {"a": {"b": ["x", {"c": 7}]}}, {"a.b": "flat", "a": {"b": "deep"}}, {"device": "tablet", "n": -1},
         {"text": "Ärger"}, {"text": ""}, {"list": [1]}]
PATTERNS = [r"^/order/\d+/done$", r"join", r"^/[a-z]+/?$", r"^/(join|order)/", r"[^/]+$", r"\.", r"^/caf%C3%A9$", r"^.{1,6}$", r"^(/[\w-]+)+$"]


def parts(url):
    # RFC 3986, appendix B
    m = re.match(r"^([^:/?#]+)://([^/?#]*)([^?#]*)(?:\?([^#]*))?(?:#(.*))?$", url, re.S)
    host = re.sub(r"^.*@|:\d*$", "", m.group(2)).lower()
    return host, m.group(3) or "/", m.group(4), m.group(5)


def decode(text):
    if re.search(r"%(?![0-9A-Fa-f]{2})", text):
        return text
    try:
        return urllib.parse.unquote_plus(text, errors="strict")
    except UnicodeDecodeError:
        return text


def spell(path):
    path = urllib.parse.quote(path, safe="/:?#[]@!$&'()*+,;=%~-._")
    return re.sub(r"%([0-9A-Fa-f]{2})", lambda m: chr(int(m[1], 16)) if re.match(r"[A-Za-z0-9._~-]", chr(int(m[1], 16))) else m[0].upper(), path)


def at(values, path):
    found = values.get(path)
    if found is None:
        found = values
        for step in path.split("."):
            if isinstance(found, dict):
                found = found.get(step)
            elif isinstance(found, list) and step.isdigit() and int(step) < len(found):
                found = found[int(step)]
            else:
                found = None
    return found if isinstance(found, (str, int, float, bool)) else None


def fact(event, name):
    host, path, query, fragment = parts(event["url"])
    if name == "url.full":
        return event["url"]
    if name == "url.host":
        return host
    if name == "url.path":
        return path
    if name == "url.fragment":
        return fragment
    if name.startswith("url.query."):
        for pair in (query or "").split("&"):
            key, _, value = pair.partition("=")
            if pair and decode(key) == name[10:]:
                return decode(value)
        return None
    if name == "event.name":
        return event["name"]
    if name.startswith("event.props."):
        return at(event["props"], name[12:])
    if name == "referrer.host":
        return parts(event["referrer"])[0] if event["referrer"] else None
    agent = event["agent"]
    if name == "device":
        return at(event["props"], "device") or (None if agent is None else "mobile" if "iPhone" in agent else "desktop")
    if name == "browser":
        return at(event["props"], "browser") or (None if agent is None else "safari" if "iPhone" in agent else "firefox")
    return None


def same(a, b):
    number = lambda x: isinstance(x, (int, float)) and not isinstance(x, bool)
    if number(a) and number(b):
        return a == b
    return type(a) is type(b) and a == b


def holds(rule, event):
    if "all" in rule:
        return all(holds(one, event) for one in rule["all"])
    if "any" in rule:
        return any(holds(one, event) for one in rule["any"])
    if "not" in rule:
        return not holds(rule["not"], event)
    op, value, ignore = rule["op"], rule.get("value"), rule.get("ignore", [])
    found = fact(event, rule["fact"])
    is_path = rule["fact"] == "url.path"

    def spelled(text):
        if not isinstance(text, str):
            return text
        text = spell(text) if is_path else text
        if "case" in ignore:
            text = re.sub("[A-Z]", lambda m: m[0].lower(), text)
        return (text.rstrip("/") or "/") if "slash" in ignore and len(text) > 1 else text

    found = spelled(found)
    if op == "matches":
        return isinstance(found, str) and re.search(value, found, re.S | re.A) is not None
    value = [spelled(one) for one in value] if isinstance(value, list) else spelled(value)
    texts = isinstance(found, str) and isinstance(value, str)
    numbers = all(isinstance(x, (int, float)) and not isinstance(x, bool) for x in (found, value))
    return {
        "exists": lambda: found is not None, "is": lambda: same(found, value), "is-not": lambda: not same(found, value),
        "in": lambda: any(same(found, one) for one in value), "starts": lambda: texts and found.startswith(value), "ends": lambda: texts and found.endswith(value),
        "contains": lambda: texts and value in found, "lt": lambda: numbers and found < value, "lte": lambda: numbers and found <= value,
        "gt": lambda: numbers and found > value, "gte": lambda: numbers and found >= value,
    }[op]()


def leaf():
    kind = random.random()
    if kind < 0.45:
        op = random.choice(["is", "is-not", "starts", "ends", "contains", "in", "matches"])
        value = random.choice(PATTERNS) if op == "matches" else random.sample(PATHS[:-1], 3) if op == "in" else random.choice(PATHS[:-1])
        rule = {"fact": "url.path", "op": op, "value": value}
        ignore = random.choice([[], [], ["case"], ["slash"], ["case", "slash"]])
        return {**rule, "ignore": ignore} if ignore and op != "matches" else rule
    if kind < 0.6:
        name = random.choice(["url.query.id", "url.query.q", "url.fragment"])
        op = random.choice(["is", "is-not", "exists", "starts"])
        return {"fact": name, "op": op} if op == "exists" else {"fact": name, "op": op, "value": random.choice(["7", "a b", "done", "%zz"])}
    if kind < 0.85:
        name = "event.props." + random.choice(["n", "a.b", "a.b.1.c", "a.b.0", "text", "list", "list.0", "none"])
        op = random.choice(["is", "is-not", "exists", "lt", "lte", "gt", "gte", "contains", "in"])
        value = {"lt": 5, "lte": 5, "gt": 5, "gte": 5.5, "contains": "r", "in": [5, "5", "x"]}.get(op, random.choice([5, "5", True, "x", 7, 5.5]))
        return {"fact": name, "op": op} if op == "exists" else {"fact": name, "op": op, "value": value}
    return random.choice([{"fact": "url.host", "op": "is", "value": "a.test"}, {"fact": "url.host", "op": "ends", "value": ".a.test"}, {"fact": "referrer.host", "op": "is", "value": "b.test"},
                          {"fact": "referrer.host", "op": "exists"}, {"fact": "device", "op": "in", "value": ["mobile", "tablet"]}, {"fact": "browser", "op": "is", "value": "firefox"},
                          {"fact": "event.name", "op": "starts", "value": "page"}, {"fact": "url.full", "op": "contains", "value": "//"}])


def rule(depth=0):
    kind = random.random()
    if depth > 2 or kind < 0.6:
        return leaf()
    if kind < 0.7:
        return {"not": rule(depth + 1)}
    return {random.choice(["all", "any"]): [rule(depth + 1) for _ in range(random.randint(0, 3))]}


def event():
    return {"name": random.choice(["page_view", "click", "joined"]), "url": "https://" + random.choice(HOSTS) + random.choice(PATHS) + random.choice(QUERIES) + random.choice(FRAGMENTS),
            "props": random.choice(PROPS), "referrer": random.choice([None, "https://b.test/x", "https://B.TEST:81"]), "agent": random.choice(AGENTS)}


cases = []
for _ in range(400):
    r = rule()
    events = [event() for _ in range(3)]
    cases.append({"rule": r, "events": [{**e, "matches": holds(r, e)} for e in events]})
print("[\n" + ",\n".join(json.dumps(c, ensure_ascii=False) for c in cases) + "\n]")
