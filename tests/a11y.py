"""What the accessibility engine and our own measures say of a page."""

import re
import sys
from itertools import product

from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import expect, sync_playwright

_TAGS = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22a", "wcag22aa", "best-practice"]
#: Names that do not hold their label (WCAG 2.5.3) are not looked for unless asked.
WCAG = {"runOnly": {"type": "tag", "values": _TAGS}, "rules": {"label-content-name-mismatch": {"enabled": True}}, "resultTypes": ["violations"]}  # fmt: skip
#: Our own: type under 13 px, targets under 48 px high on a phone, what is wider than the window, tables without a name or a
#: scope, and where the ring of the focus is under 3:1 on what lies around it (WCAG 2.2, 1.4.11 and its formula of 1.4.3).
MEASURES = """(phone) => {
  const seen = (node) => node.checkVisibility({ checkOpacity: true, checkVisibilityCSS: true }) && node.getClientRects().length;
  const name = (node) => `${node.localName}.${node.className.baseVal ?? node.className} "${(node.textContent || node.value || "").trim().slice(0, 30)}"`;
  const found = [];
  for (const node of document.querySelectorAll("body *")) {
    const own = [...node.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim());
    if (own && seen(node) && !node.closest(".is-sr-only, script, style, svg[aria-hidden]")) {
      const scale = node.ownerSVGElement ? node.ownerSVGElement.getScreenCTM()?.a ?? 1 : 1;
      if (parseFloat(getComputedStyle(node).fontSize) * scale < 12.9) found.push(`type under 13 px: ${name(node)}`);
    }
  }
  if (phone) for (const node of document.querySelectorAll("button, a.button, summary, select, input:not([type=hidden]), nav a")) {
    if (!seen(node) || node.closest(".is-sr-only")) continue;
    const box = (node.closest("label") ?? node).getBoundingClientRect();
    if (box.height && box.height < 47.5) found.push(`target ${Math.round(box.height)} px: ${name(node)}`);
  }
  for (const table of document.querySelectorAll("table")) {
    if (!table.caption && !table.getAttribute("aria-label") && !table.getAttribute("aria-labelledby")) found.push(`table without a caption: ${name(table)}`);
    for (const head of table.querySelectorAll("th:not([scope])")) found.push(`head without a scope: ${name(head)}`);
  }
  const parts = (colour) => colour.match(/[\\d.]+/g).map(Number);
  const light = (colour) => parts(colour).slice(0, 3).map((v) => v / 255).map((v) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4)).reduce((sum, v, i) => sum + v * [0.2126, 0.7152, 0.0722][i], 0);
  const ground = (node) => { for (let n = node.parentElement; n; n = n.parentElement) { const c = getComputedStyle(n).backgroundColor; if ((parts(c)[3] ?? 1) === 1) return c; } return "rgb(255, 255, 255)"; };
  for (const node of document.querySelectorAll("a[href], button, summary, select, input:not([type=hidden]), textarea")) {
    if (!seen(node) || node.disabled || node.tabIndex < 0) continue;
    node.focus({ preventScroll: true, focusVisible: true });
    if (document.activeElement !== node) continue;
    const style = getComputedStyle(node), [a, b] = [light(style.outlineColor), light(ground(node))].sort((x, y) => y - x);
    if (parseFloat(style.outlineWidth) < 3 || style.outlineStyle === "none" || (a + 0.05) / (b + 0.05) < 3) found.push(`focus not seen: ${name(node)}`);
  }
  document.activeElement.blur();
  const wide = document.documentElement.scrollWidth - innerWidth;
  if (wide > 0) found.push(`wider than the window by ${wide} px`);
  return [...new Set(found)];
}"""

#: In the reader's own colours: what a drawing paints is the ground itself or is 3:1 on it, and the page in view is marked.
FORCED = """() => {
  const found = [], probe = document.body.appendChild(document.createElement("i"));
  const colour = (name) => { probe.style.color = name; return getComputedStyle(probe).color; };
  const light = (c) => c.match(/[\\d.]+/g).slice(0, 3).map((v) => v / 255).map((v) => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4)).reduce((sum, v, i) => sum + v * [0.2126, 0.7152, 0.0722][i], 0);
  const ground = colour("Canvas"), marked = colour("Highlight");
  for (const node of document.querySelectorAll("svg :is(rect, path, line, polygon, polyline, circle, ellipse, text)")) {
    if (!node.closest("defs") && !node.checkVisibility()) continue;
    for (const paint of ["fill", "stroke"]) {
      const c = getComputedStyle(node)[paint];
      if (!c.startsWith("rgb") || c.endsWith(", 0)") || c === ground) continue;
      const [a, b] = [light(c), light(ground)].sort((x, y) => y - x);
      if ((a + 0.05) / (b + 0.05) < 3) found.push(`${paint} ${c} on ${ground}: ${node.localName}.${node.className.baseVal}`);
    }
  }
  for (const node of document.querySelectorAll(".tools a, .pages-line a, .tabs-line a")) {
    if ((getComputedStyle(node).borderBottomColor === marked) !== node.hasAttribute("aria-current")) found.push(`where one is: ${node.textContent}`);
  }
  probe.remove();
  return [...new Set(found)];
}"""
#: With text twice as large: what runs out of its box and is cut off there.
CUT = """() => [...document.querySelectorAll("body *")].filter((n) => {
  const style = getComputedStyle(n);
  return n.checkVisibility() && ["hidden", "clip"].includes(style.overflowX) && style.webkitLineClamp === "none" && !n.closest("svg, .is-sr-only") && !n.querySelector(":scope > svg")
    && n.textContent.trim() && (n.scrollWidth > n.clientWidth + 2 || n.scrollHeight > n.clientHeight + 2);
}).map((n) => `cut off: ${n.outerHTML.slice(0, 90)}`)"""


def faults(page, phone=False):
    """What is wrong with the page in view: violations of WCAG 2.2 A and AA as "rule: target", and our own measures.

    Looked at in a window as high as the page, so that what sticks to its foot covers nothing that is measured.
    """
    size = page.viewport_size
    page.set_viewport_size({**size, "height": page.evaluate("document.documentElement.scrollHeight") + 200})
    found = Axe().run(page, options=WCAG).response["violations"]
    engine = [f"{v['id']}: {' '.join(map(str, n['target']))}" for v in found for n in v["nodes"]]
    own = page.evaluate(MEASURES, phone)
    page.set_viewport_size(size)
    return engine + own


def matrix(root, password, launch):
    """Print what is wrong with each page that links lead to, in both modes at both widths; the number of faults."""
    count = 0
    with sync_playwright() as driver:
        browser = driver.chromium.launch(**launch)
        for width, gloves in product((1280, 390), (False, True)):
            page = browser.new_page(viewport={"width": width, "height": 844}, reduced_motion="reduce")
            sign_in(page, root, password, gloves)
            todo, seen = ["/"], set()
            while todo:
                address = todo.pop(0)
                page.goto(root + address)
                found = faults(page, phone=width < 700)
                count += len(found)
                for fault in found:
                    print(f"{width} {'gloves' if gloves else 'plain'} {address} {fault}")
                for link in page.evaluate("[...document.querySelectorAll('a[href^=\"/\"]')].map((a) => a.getAttribute('href').split('#')[0])"):  # fmt: skip
                    kind = re.sub(r"\d+", "N", link.split("?")[0]).replace("/materials/new/", "/materials/new ").split(" ")[0]  # fmt: skip
                    if kind not in seen and not re.search(r"/static/|\.\w+(\?|$)|/photos/|export", link):
                        seen.add(kind)
                        todo.append(link)
            page.close()
    return count


def sign_in(page, root, password, gloves):
    """As the owner, with gloves on if they are wanted."""
    page.goto(root + "/")
    page.get_by_label("Username").fill("owner")
    page.get_by_label("Password").fill(password)
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("heading", name="Bench")).to_be_visible()
    page.goto(root + "/more/")
    if gloves != bool(page.locator("html.gloves").count()):
        page.locator("form[action='/gloves'] button").last.click()
        page.wait_for_load_state()


if __name__ == "__main__":
    from tests.screenshots import ARGUMENTS, PASSWORD, chromium_path, wait_for

    wait_for(sys.argv[1])
    faulty = matrix(sys.argv[1], PASSWORD, {"executable_path": chromium_path(), "args": ARGUMENTS})
    print(f"{faulty} faults")
    sys.exit(bool(faulty))
