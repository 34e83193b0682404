// @vitest-environment happy-dom

import { describe, expect, it } from "vitest";
import { canBeFormatted, fromEditor, toEditor } from "./formattedText";

describe("formatted text", () => {
  it.each([
    ["", true],
    ["a < b and c > d", true],
    ["two\n\nparagraphs", true],
    ["<p>One <b>bold</b> <a href='https://example.org'>link</a></p>", true],
    ["<ul><li>Bring your key</li></ul>", true],
    ["<table><tr><td>1</td></tr></table>", false],
    ["<p style='color:red'>Red</p>", false],
    ["<img src=x onerror=alert(1)>", false],
    ["<script>alert(1)</script>", false],
    ["<p onclick='x()'>Click</p>", false],
    ["<h1>Large</h1>", false],
  ])("%j can be edited as it looks: %s", (text, can) => {
    expect(canBeFormatted(text)).toBe(can);
  });

  it("keeps the lines of what has no tags, and takes nothing for one", () => {
    expect(toEditor("a < b\nnext\n\nlast & least")).toBe("<p>a &lt; b<br>next</p><p>last &amp; least</p>");
    expect(toEditor("<p>as it is</p>")).toBe("<p>as it is</p>");
    expect(fromEditor("<p></p>")).toBe("");
    expect(fromEditor("<ul><li><p>Last</p></li></ul><p></p>")).toBe("<ul><li><p>Last</p></li></ul>");
  });
});
