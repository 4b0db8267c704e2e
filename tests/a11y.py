"""What the accessibility engine and our own measures say of a page."""

import re
import sys
from itertools import product

from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import expect, sync_playwright

WCAG = {"runOnly": {"type": "tag", "values": ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22a", "wcag22aa"]}, "resultTypes": ["violations"]}  # fmt: skip
#: Our own: type under 13 px, targets under 48 px high on a phone, what is wider than the window.
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
  const wide = document.documentElement.scrollWidth - innerWidth;
  if (wide > 0) found.push(`wider than the window by ${wide} px`);
  return [...new Set(found)];
}"""


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
