package plenzo.core.report;

import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import org.jspecify.annotations.Nullable;

/**
 * A document of facts and tables, the same in every form: Markdown (CommonMark with tables), HTML
 * without scripts or anything from outside, and CSV (RFC 4180) of one table. What comes from
 * outside is text in each of them and never markup.
 */
public record Report(String title, Instant made, List<Section> sections) {
  public Report {
    sections = List.copyOf(sections);
  }

  /** A name and what it is. */
  public record Fact(String name, String value) {}

  /**
   * A part with a heading: a text, facts, and a table, each of which may be missing.
   *
   * @param heads of the table; none: there is no table
   */
  public record Section(
      String heading, String text, List<Fact> facts, List<String> heads, List<List<String>> rows) {
    public Section {
      facts = List.copyOf(facts);
      heads = List.copyOf(heads);
      rows = rows.stream().map(List::copyOf).toList();
      for (List<String> row : rows) {
        if (row.size() != heads.size()) {
          throw new IllegalArgumentException(
              "A row of " + heading + " has " + row.size() + " of " + heads.size() + " cells");
        }
      }
    }

    /** A table in CSV with its heads, lines ended as RFC 4180 says. */
    public String csv() {
      StringBuilder out = new StringBuilder();
      line(out, heads);
      rows.forEach(r -> line(out, r));
      return out.toString();
    }

    private static void line(StringBuilder out, List<String> cells) {
      out.append(String.join(",", cells.stream().map(Section::cell).toList())).append("\r\n");
    }

    /**
     * Quoted where it must be; what a table program would take for a formula begins with an
     * apostrophe.
     */
    private static String cell(String text) {
      boolean formula =
          !text.isEmpty() && "=+-@\t\r".indexOf(text.charAt(0)) >= 0 && !text.matches("-?[0-9.,]+");
      String safe = formula ? "'" + text : text;
      return safe.matches("(?s).*[\",\r\n].*") ? '"' + safe.replace("\"", "\"\"") + '"' : safe;
    }
  }

  /** Puts sections together. */
  public static final class Builder {
    private final String title;
    private final Instant made;
    private final List<Section> sections = new ArrayList<>();

    public Builder(String title, Instant made) {
      this.title = title;
      this.made = made;
    }

    /**
     * @param namesAndValues name, value, name, value …; what has no value is left out
     */
    public Builder facts(String heading, @Nullable String... namesAndValues) {
      List<Fact> facts = new ArrayList<>();
      for (int i = 0; i + 1 < namesAndValues.length; i += 2) {
        String value = namesAndValues[i + 1];
        if (value != null && !value.isBlank()) {
          facts.add(new Fact(String.valueOf(namesAndValues[i]), value));
        }
      }
      sections.add(new Section(heading, "", facts, List.of(), List.of()));
      return this;
    }

    /**
     * @param none what is said where there are no rows
     */
    public Builder table(String heading, String none, List<String> heads, List<List<String>> rows) {
      sections.add(
          rows.isEmpty()
              ? new Section(heading, none, List.of(), List.of(), List.of())
              : new Section(heading, "", List.of(), heads, rows));
      return this;
    }

    public Builder text(String heading, String text) {
      sections.add(new Section(heading, text, List.of(), List.of(), List.of()));
      return this;
    }

    public Builder add(List<Section> more) {
      sections.addAll(more);
      return this;
    }

    public Report build() {
      return new Report(title, made, sections);
    }
  }

  /** A time as documents say it: in UTC, to the second. */
  public static String time(Instant at) {
    return at.truncatedTo(ChronoUnit.SECONDS).toString();
  }

  public static List<String> row(@Nullable String... cells) {
    return Arrays.stream(cells).map(c -> c == null ? "" : c).toList();
  }

  public String markdown() {
    StringBuilder out = new StringBuilder();
    out.append("# ").append(plain(title)).append("\n\nMade ").append(made).append(" (UTC).\n");
    for (Section s : sections) {
      out.append("\n## ").append(plain(s.heading())).append("\n\n");
      if (!s.text().isBlank()) {
        s.text().lines().forEach(l -> out.append(plain(l)).append("  \n"));
        out.append('\n');
      }
      s.facts()
          .forEach(
              f ->
                  out.append("- ")
                      .append(plain(f.name()))
                      .append(": ")
                      .append(plain(f.value()))
                      .append('\n'));
      if (!s.heads().isEmpty()) {
        line(out, s.heads());
        out.append("|").append(" --- |".repeat(s.heads().size())).append('\n');
        s.rows().forEach(r -> line(out, r));
      }
    }
    return out.toString();
  }

  private static void line(StringBuilder out, List<String> cells) {
    out.append("| ")
        .append(String.join(" | ", cells.stream().map(Report::plain).toList()))
        .append(" |\n");
  }

  /** One line in which nothing is markup. */
  private static String plain(String text) {
    return control(text)
        .replaceAll("[\r\n]+", " ")
        .replaceAll("([\\\\`*_{}\\[\\]<>#|~!&])", "\\\\$1");
  }

  /** Control, bidirectional and invisible characters are shown as escapes. */
  private static String control(String text) {
    StringBuilder out = new StringBuilder();
    text.codePoints()
        .forEach(
            c -> {
              boolean odd =
                  c != '\n'
                      && (Character.getType(c) == Character.CONTROL
                          || Character.getType(c) == Character.FORMAT);
              if (odd) {
                out.append(String.format("\\u%04X", c));
              } else {
                out.appendCodePoint(c);
              }
            });
    return out.toString();
  }

  public String html() {
    StringBuilder out = new StringBuilder();
    out.append("<!doctype html>\n<html lang=\"en\"><head><meta charset=\"utf-8\">")
        .append(
            "<meta http-equiv=\"Content-Security-Policy\" content=\"default-src 'none'; style-src 'unsafe-inline'\">")
        .append("<title>")
        .append(escaped(title))
        .append("</title><style>")
        .append(
            "body{font:15px/1.5 sans-serif;max-width:1000px;margin:2rem auto;padding:0 1rem;color:#1c1b18}")
        .append("h1{font-size:1.5rem;border-bottom:3px double #1c1b18;padding-bottom:.3rem}")
        .append("h2{font-size:1.1rem;margin-top:1.6rem}")
        .append("table{border-collapse:collapse;width:100%}")
        .append(
            "th,td{border:1px solid #c9c7bf;padding:.25rem .5rem;text-align:left;vertical-align:top;overflow-wrap:anywhere}")
        .append(
            "dl{display:grid;grid-template-columns:max-content 1fr;gap:.2rem 1rem;margin:0}dt{color:#5e5b52}dd{margin:0;overflow-wrap:anywhere}")
        .append("pre{white-space:pre-wrap;font:inherit;margin:0}")
        .append("</style></head><body>\n<h1>")
        .append(escaped(title))
        .append("</h1>\n<p>Made ")
        .append(made)
        .append(" (UTC).</p>\n");
    for (Section s : sections) {
      out.append("<h2>").append(escaped(s.heading())).append("</h2>\n");
      if (!s.text().isBlank()) {
        out.append("<pre>").append(escaped(s.text())).append("</pre>\n");
      }
      if (!s.facts().isEmpty()) {
        out.append("<dl>");
        s.facts()
            .forEach(
                f ->
                    out.append("<dt>")
                        .append(escaped(f.name()))
                        .append("</dt><dd><pre>")
                        .append(escaped(f.value()))
                        .append("</pre></dd>"));
        out.append("</dl>\n");
      }
      if (!s.heads().isEmpty()) {
        out.append("<table><thead><tr>");
        s.heads().forEach(h -> out.append("<th scope=\"col\">").append(escaped(h)).append("</th>"));
        out.append("</tr></thead><tbody>\n");
        for (List<String> r : s.rows()) {
          out.append("<tr>");
          r.forEach(c -> out.append("<td>").append(escaped(c)).append("</td>"));
          out.append("</tr>\n");
        }
        out.append("</tbody></table>\n");
      }
    }
    return out.append("</body></html>\n").toString();
  }

  private static String escaped(String text) {
    return control(text)
        .replace("&", "&amp;")
        .replace("<", "&lt;")
        .replace(">", "&gt;")
        .replace("\"", "&quot;");
  }
}
