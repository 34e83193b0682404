using System.Text.RegularExpressions;
using CsCheck;
using PlainPorch.Core.Values;

namespace PlainPorch.Core.Tests.Values;

public sealed class FormattedTextTests
{
    [Theory]
    [InlineData("<p>One <b>bold</b> word</p>")]
    [InlineData("<ul><li>Bring your key</li></ul>")]
    [InlineData("<a href=\"https://example.org/tides\">Tides</a>")]
    [InlineData("<table><tbody><tr><td colspan=\"2\">7.5</td></tr></tbody></table>")]
    [InlineData("no tag, though 3 < 4 & 5 > 4")]
    [InlineData("")]
    public void Sanitize_WhatIsHarmless_StaysAsItIs(string text) => Assert.Equal(text, FormattedText.Sanitize(text));

    [Theory]
    [InlineData("<script>alert(1)</script><p>Crab</p>", "<p>Crab</p>")]
    [InlineData("<p onclick=\"alert(1)\">Click</p>", "<p>Click</p>")]
    [InlineData("<img src=x onerror=alert(1)>", "")]
    [InlineData("<a href=\"javascript:alert(1)\">Tides</a>", "<a>Tides</a>")]
    [InlineData("<a href=\" jAvascript:alert(1)\">Tides</a>", "<a>Tides</a>")]
    [InlineData("<p style=\"background:url(//x)\">Red</p>", "<p>Red</p>")]
    [InlineData("<font color=red>Word</font>", "Word")]
    [InlineData("<svg><script>alert(1)</script></svg>ok", "ok")]
    [InlineData("<iframe srcdoc=\"<script>alert(1)</script>\"></iframe>ok", "ok")]
    [InlineData("<style>p{}</style>ok", "ok")]
    [InlineData("<form action=//x><input name=a>ok</form>", "ok")]
    public void Sanitize_WhatCouldDoHarm_Goes(string text, string left) => Assert.Equal(left, FormattedText.Sanitize(text));

    [Theory]
    [InlineData("3 < 4\nnext\n\nlast", "<p>3 &lt; 4<br>next</p><p>last</p>")]
    [InlineData("<b>x</b>", "<b>x</b>")]
    public void ToHtml_ATextWithoutTags_KeepsItsLines(string text, string html) => Assert.Equal(html, FormattedText.ToHtml(text));

    [Theory]
    [InlineData("<p>From <i>Monday</i> on.<br>Thank you.</p><p>Bye</p>", "From Monday on. Thank you. Bye")]
    [InlineData("<ul><li>Key</li><li>Book</li></ul>", "Key Book")]
    [InlineData("<p>cut off within <a hre", "cut off within")]
    [InlineData("3 < 4", "3 < 4")]
    [InlineData("<p>3 &lt; 4</p>", "3 < 4")]
    public void ToPlain_LeavesTheWords(string text, string plain) => Assert.Equal(plain, FormattedText.ToPlain(text));

    [Fact]
    public void Sanitize_Anything_IsHarmless_AndStaysSo()
    {
        string[] parts =
        [
            "<",
            ">",
            "\"",
            "'",
            "/",
            "=",
            " ",
            "&lt;",
            "<script>",
            "</script>",
            "<img src=x onerror=alert(1)>",
            "<p>",
            "</p>",
            "<a href=\"javascript:",
            "<svg/onload=",
            "<math><mtext>",
            "<style>",
            "<!--",
            "-->",
            "<table>",
            "<noscript>",
            "word",
            "\0",
            "é",
        ];
        Gen.OneOfConst(parts)
            .Array[0, 14]
            .Select(some => string.Concat(some))
            .Sample(
                text =>
                {
                    var once = FormattedText.Sanitize(FormattedText.ToHtml(text));
                    Assert.DoesNotMatch(Harm(), once);
                    Assert.Equal(once, FormattedText.Sanitize(once));
                    Assert.Null(Record.Exception(() => FormattedText.ToPlain(text)));
                },
                iter: 3_000
            );
    }

    private static Regex Harm() =>
        new(
            "<(?!/?(p|br|hr|strong|b|em|i|u|s|sub|sup|h[1-4]|ul|ol|li|blockquote|pre|code|a|table|thead|tbody|tr|th|td)[ >])|<[^>]* on[a-z]+=|javascript:[^<]*\">",
            RegexOptions.IgnoreCase
        );
}
