package plenzo.cli;

import java.util.List;
import java.util.Objects;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.jspecify.annotations.Nullable;
import plenzo.api.Drifts.GroupView;
import plenzo.api.Promotions.AttributeChange;
import plenzo.api.Promotions.BaseView;
import plenzo.api.Promotions.ComponentChange;
import plenzo.api.Promotions.CountsView;
import plenzo.api.Promotions.RowChange;
import plenzo.api.Promotions.WordRun;
import plenzo.api.Rollbacks.TouchedView;

/** Differences as text: a component, its parts, its rows, attribute by attribute. */
final class DifferenceText {
  private DifferenceText() {}

  static void component(Out out, ComponentChange c) {
    out.line("");
    out.line(
        out.state(c.difference())
            + " "
            + c.key()
            + (c.key().startsWith("records/") ? ": " + counts(out, c.counts()) : ""));
    c.parts()
        .forEach(
            x -> {
              boolean conflict = x.difference().equals("conflict");
              out.line("  " + out.state(x.difference()) + " " + named(x.part()));
              x.attributes().forEach(a -> attribute(out, a, conflict));
              if (conflict && c.parts().size() == 1 && !c.key().startsWith("table/")) {
                x.attributes().stream()
                    .filter(DifferenceText::movedByBoth)
                    .forEach(
                        a ->
                            out.line(
                                "      Both moved "
                                    + a.name()
                                    + ": "
                                    + c.key()
                                    + "=take-both "
                                    + quoted(c.key() + "#member/" + a.name() + "=keep")
                                    + " or =take-incoming"));
              }
              if (x.mayTakeBoth()) {
                out.line(
                    "      Each side moved other "
                        + (c.key().startsWith("file/") ? "lines" : "members")
                        + ": "
                        + c.key()
                        + "=take-both");
              }
            });
  }

  /** The whole of a table or of a definition has no name behind its slash. */
  private static String named(String part) {
    return part.endsWith("/") ? part.substring(0, part.length() - 1) : part;
  }

  /** As a shell takes it for one word. */
  private static String quoted(String word) {
    return word.contains(" ") ? "'" + word + "'" : word;
  }

  /** Whether present and incoming both differ from what both had before. */
  private static boolean movedByBoth(AttributeChange a) {
    BaseView b = a.base();
    return b != null
        && !(b.absent() == a.presentAbsent() && Objects.equals(b.value(), a.present()))
        && !(b.absent() == a.incomingAbsent() && Objects.equals(b.value(), a.incoming()));
  }

  static String counts(Out out, CountsView c) {
    String[] words = {"conflict", "removed", "changed", "added", "kept", "same"};
    long[] counts = {c.conflict(), c.removed(), c.changed(), c.added(), c.kept(), c.same()};
    StringBuilder text = new StringBuilder();
    for (int i = 0; i < words.length; i++) {
      text.append(i == 0 ? "" : ", ").append(out.count(counts[i], words[i]));
    }
    return text.toString();
  }

  /** What is written, gravest first: "2 removed, 3 changed, 1 added". */
  static String written(CountsView c) {
    return c.removed() + " removed, " + c.changed() + " changed, " + c.added() + " added";
  }

  /** What of a component a way back writes, gravest first: "1 removed, 2 changed back". */
  static String written(TouchedView t) {
    String[] words = {"removed", "changed back", "put back"};
    long[] counts = {t.removed(), t.changed(), t.added()};
    return IntStream.range(0, words.length)
        .filter(i -> counts[i] > 0)
        .mapToObj(i -> counts[i] + " " + words[i])
        .collect(Collectors.joining(", "));
  }

  static void row(Out out, RowChange r) {
    out.line("  " + out.state(r.difference()) + " row " + r.key().replace("\"", ""));
    if (r.difference().equals("changed") || r.difference().equals("conflict")) {
      r.attributes().forEach(a -> attribute(out, a, r.difference().equals("conflict")));
      if (r.both() != null) {
        out.line(
            "      Each side moved other attributes; both together (take-both): "
                + r.both().stream()
                    .map(v -> v.name() + " " + value(v.value()))
                    .collect(Collectors.joining(", ")));
      }
      return;
    }
    boolean removed = r.difference().equals("removed");
    out.line(
        "      "
            + r.attributes().stream()
                .map(a -> a.name() + " " + value(removed ? a.present() : a.incoming()))
                .collect(Collectors.joining(", ")));
  }

  /**
   * @param three whether what both had before is said as well
   */
  private static void attribute(Out out, AttributeChange a, boolean three) {
    if (!three && a.words() == null && (several(a.present()) || several(a.incoming()))) {
      out.line("      " + a.name() + ":");
      lines(out, "- ", a.presentAbsent() ? "" : a.present());
      lines(out, "+ ", a.incomingAbsent() ? "" : a.incoming());
      return;
    }
    out.line(
        "      "
            + a.name()
            + ": "
            + (a.presentAbsent()
                ? "(not there)"
                : a.words() == null
                    ? value(a.present())
                    : words(out, a.words().present(), "[-", "-]"))
            + " -> "
            + (a.incomingAbsent()
                ? "(not there)"
                : a.words() == null
                    ? value(a.incoming())
                    : words(out, a.words().incoming(), "{+", "+}"))
            + (three && a.base() != null
                ? ", before both: " + (a.base().absent() ? "(not there)" : value(a.base().value()))
                : ""));
  }

  private static boolean several(@Nullable String value) {
    return value != null && value.indexOf('\n') >= 0;
  }

  /** Code and texts line by line, as those who read it know it. */
  private static void lines(Out out, String sign, @Nullable String value) {
    String all = value == null ? "" : value;
    all.lines().forEach(line -> out.line("        " + sign + line));
  }

  /** The words that differ stand in the brackets that word-level differences are known by. */
  private static String words(Out out, List<WordRun> runs, String open, String close) {
    return runs.stream()
        .map(r -> r.differs() ? out.strong(open + r.text() + close) : r.text())
        .collect(Collectors.joining());
  }

  static String value(@Nullable String v) {
    return v == null ? "(null)" : v.isEmpty() ? "(empty)" : v;
  }

  /** "records/fares.band: 1 changed, 1 only there; R-7 wrote it last". */
  static String group(GroupView g) {
    String text = g.component() + ": ";
    text += g.changed() > 0 ? g.changed() + " changed, " : "";
    text += g.gone() > 0 ? g.gone() + " gone, " : "";
    text += g.onlyThere() > 0 ? g.onlyThere() + " only there, " : "";
    text = text.substring(0, text.length() - 2);
    return text
        + (g.run() == null ? "" : "; " + g.run() + " wrote it last")
        + (g.author() == null ? "" : "; last changed there by " + g.author());
  }

  static String how(String code) {
    return code.equals("only-there") ? "only there" : code;
  }

  /**
   * Both sides of an attribute with their names.
   *
   * @param incoming what the side is called that comes first here
   */
  static void beside(Out out, AttributeChange a, String incoming, String present) {
    out.line(
        "      "
            + a.name()
            + ": "
            + incoming
            + " "
            + (a.incomingAbsent() ? "(not there)" : value(a.incoming()))
            + ", "
            + present
            + " "
            + (a.presentAbsent() ? "(not there)" : value(a.present())));
  }
}
