"""Documentation that somebody else wrote: shown, with its formulae, and nothing in it runs or reaches anywhere."""

from __future__ import annotations

import json

import pytest

from tests.browser.conftest import Page

pytestmark = pytest.mark.browser

#: Known ways past cleaning: handlers, addresses, and texts that turn into something else when they are read twice
#: (Heiderich et al., mXSS Attacks, CCS 2013; and those published since for nested tables, MathML, SVG and templates).
TRICKS = [
    "<script>window.hit = 1</script>",
    "<img src=x onerror='window.hit = 1'>",
    "<p onclick='window.hit = 1' style='position:fixed;inset:0'>press</p>",
    "<a href='javascript:window.hit = 1'>here</a>",
    "<a href='&#106;ava&Tab;script:window.hit = 1'>here</a>",
    "<a href='data:text/html,<script>window.hit = 1</script>'>here</a>",
    "<svg><style><img src=x onerror='window.hit = 1'></style></svg>",
    "<svg><p><style><g title='</style><img src=x onerror=window.hit=1>'>",
    "<math><mtext><table><mglyph><style><!--</style><img title='--&gt;&lt;img src=1 onerror=window.hit=1&gt;'>",
    "<form><math><mtext></form><form><mglyph><style></math><img src onerror=window.hit=1>",
    "<math><mtext><h1><a><h6></a></h6><mglyph><svg><mtext><style><a title='</style><img src onerror=window.hit=1>'></style></h1>",
    "<noscript><p title='</noscript><img src=x onerror=window.hit=1>'>",
    "<textarea><p title='</textarea><img src=x onerror=window.hit=1>'>",
    "<template><script>window.hit = 1</script></template>",
    "<svg></p><title><a id='</title><img src=x onerror=window.hit=1>'>",
    "<listing>&lt;img src=x onerror=window.hit=1&gt;</listing>",
    "<xmp><p title='</xmp><img src=x onerror=window.hit=1>'></xmp>",
    "<p><b id='x'><table><td></b><img src=x onerror=window.hit=1></td></table></p>",
    "<div><div><div><svg><foreignObject><iframe srcdoc='<script>parent.hit=1</script>'></iframe></foreignObject></svg>",
    "<p>$\\href{javascript:window.hit=1}{x}$ and $\\includegraphics{x}$</p>",
    "<p>$\\text{</span><img src=x onerror=window.hit=1>}$</p>",
    "<a href='https://quay.example/$</a><img src=x onerror=window.hit=1>$'>a</a>",
    "<p title='$x$\"><img src=x onerror=window.hit=1>'>$\\htmlData{a=b}{c}$</p>",
    "<base href='https://elsewhere.example/'><meta http-equiv=refresh content='0;url=https://elsewhere.example'>",
    "<link rel=stylesheet href='https://elsewhere.example/a.css'><style>* { display: none }</style>",
    "<object data='x'></object><embed src='x'><video src=x onerror='window.hit=1'></video>",
    "<form action='https://elsewhere.example'><button>send</button><input name=a></form>",
]
WRITTEN = (
    "<h3>Flow</h3><p>so $q = \\sqrt{h}$, and $a < b$</p><code>$x$</code>"
    "<a href='https://quay.example/$y$'>$z$</a><table><tr><td colspan='2'>1</td></tr></table>"
)
#: What stands in a documentation and is neither a known tag nor part of a formula, or has an attribute that is not known.
STRANGE = """
const place = document.querySelector('[data-testid="documentation"]');
const known = new Set("P BR H1 H2 H3 H4 H5 H6 B STRONG I EM U SUB SUP CODE PRE UL OL LI DL DT DD TABLE THEAD TBODY TR TH TD HR BLOCKQUOTE SPAN DIV A".split(" "));
return [...place.querySelectorAll("*")].filter((e) => !e.closest(".katex") && !e.querySelector(":scope > .katex")).flatMap((e) => [
  ...(known.has(e.tagName) ? [] : [e.tagName]),
  ...[...e.attributes].filter((a) => !["href", "colspan", "rowspan"].includes(a.name) && !e.classList.contains("katex-error"))
    .map((a) => `${e.tagName} ${a.name}`),
  ...(e.tagName === "A" && !/^(https?:|mailto:|#)/.test(e.getAttribute("href") ?? "#") ? [e.outerHTML] : []),
]).concat([...place.querySelectorAll(".katex *")].flatMap((e) => [...e.attributes].filter((a) => /^on|href|src/.test(a.name)).map((a) => a.name)),
  window.hit ? ["it ran"] : []);
"""


def test_no_trick_gets_through(page: Page) -> None:
    infos = [*TRICKS, WRITTEN]
    models = "\n".join(
        f"  model T{k} Real x = 1; annotation(Documentation(info = {json.dumps(info)})); end T{k};"
        for k, info in enumerate(infos)
    )
    project = int(page.server.ask("/projects", {"name": "Tricks"})["id"])
    text = f"package Tricks\n{models}\nend Tricks;\n"
    page.server.ask(f"/projects/{project}/files", {"path": "Tricks.mo", "text": text})
    for number, info in enumerate(infos):
        page.open(f"/projects/{project}/models/Tricks.T0/parts/Tricks.T{number}")
        place = page.find("documentation")
        for link in place.find_elements("css selector", "p, a[href^='#'], a:not([href])"):
            page.driver.execute_script("arguments[0].click()", link)
        assert page.driver.execute_script(STRANGE) == [], info
    formulae = "return [...document.querySelectorAll('annotation')].map((a) => a.textContent)"
    assert page.driver.execute_script(formulae) == ["q = \\sqrt{h}", "a < b", "z"]
    assert [e.text for e in place.find_elements("css selector", "code")] == ["$x$"]
    (link,) = place.find_elements("css selector", "a")
    assert link.get_attribute("href") == "https://quay.example/$y$"
    assert place.find_element("css selector", "td").get_attribute("colspan") == "2"
