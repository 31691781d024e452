package plenzo.engine.sealing;

import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.table.Column;
import plenzo.core.table.Conversion;
import plenzo.core.table.Renaming;
import plenzo.core.table.TableStructure;
import plenzo.core.version.Draft;
import plenzo.core.version.StatedConversion;
import plenzo.core.version.VersionEntry;

/**
 * What people stated of a draft's columns, held against the columns of both sides: those of the
 * version drafted from, by the names that they have by now, and those of the source.
 */
final class DraftConversions {
  private final Draft draft;
  private final Consumer<Finding> found;

  DraftConversions(Draft draft, Consumer<Finding> found) {
    this.draft = draft;
    this.found = found;
  }

  /** What is stated of tables that are not picked. */
  void requirePicked(List<VersionEntry> entries) {
    for (StatedConversion s : draft.conversions()) {
      if (entries.stream().noneMatch(e -> e.key().equals(s.component()))) {
        idle(s, s.component() + " is not picked");
      }
    }
  }

  /**
   * A table with what is stated of it.
   *
   * @param was the same table in the version drafted from, by the names of now; null of a new one
   * @param names what is called otherwise by now
   */
  VersionEntry converting(
      VersionEntry entry, @Nullable TableStructure was, TableStructure is, Renaming names) {
    Map<String, Conversion> forth = new TreeMap<>();
    Map<String, Conversion> back = new TreeMap<>();
    Map<String, String> before =
        names.inverse().columns(names.before(TableName.of(entry.key().name())));
    for (StatedConversion s : draft.conversions()) {
      if (!s.component().equals(entry.key()) || entry.key().kind() != Kind.TABLE) {
        continue;
      }
      if (was == null) {
        idle(s, "the table is new, and has no rows anywhere");
        continue;
      }
      TableStructure made = s.back() ? was : is;
      TableStructure read = s.back() ? is : was;
      Column column = made.column(s.column()).orElse(null);
      Column other = read.column(s.column()).orElse(null);
      if (column == null) {
        idle(s, "there is no such column " + (s.back() ? "in " + draft.from() : "at the source"));
      } else if (column.isComputed()) {
        idle(s, "the database computes it");
      } else if (other != null && other.type().equals(column.type())) {
        idle(s, "it is " + column.type() + " in " + draft.from() + " and at the source");
      } else {
        Conversion c = Conversion.of(s.expression(), read);
        if (s.back()) {
          back.put(before.getOrDefault(s.column(), s.column()), c);
        } else {
          forth.put(s.column(), c);
        }
      }
    }
    if (was != null) {
      lacksBack(entry.key(), forth, back, was, is);
    }
    return forth.isEmpty() && back.isEmpty() ? entry : entry.converting(forth, back);
  }

  private static String place(ComponentKey table, String column) {
    return table + "#column/" + column;
  }

  private void idle(StatedConversion s, String why) {
    found.accept(
        Finding.of(
            "conversion-idle",
            Severity.BLOCKER,
            place(s.component(), s.column()),
            "It is stated what "
                + s.column()
                + " of "
                + s.component()
                + " is worked out from"
                + (s.back() ? " on the way back" : "")
                + ", and nothing is: "
                + why
                + ".",
            1,
            "Take it back: plenzo draft convert "
                + draft.id()
                + " "
                + s.component()
                + " "
                + s.column()
                + (s.back() ? " --back" : "")
                + " --none",
            null));
  }

  /** Columns that are worked out from, are another afterwards, and are not worked back. */
  private void lacksBack(
      ComponentKey table,
      Map<String, Conversion> forth,
      Map<String, Conversion> back,
      TableStructure was,
      TableStructure is) {
    TreeSet<String> read = new TreeSet<>();
    forth.values().forEach(c -> read.addAll(c.reads().keySet()));
    read.removeIf(
        c ->
            back.containsKey(c)
                || is.column(c)
                    .filter(x -> x.type().equals(was.column(c).orElseThrow().type()))
                    .isPresent());
    for (String c : read) {
      boolean stays = is.column(c).isPresent();
      found.accept(
          Finding.said(
              "not-worked-back",
              Severity.NOTE,
              place(table, c),
              stays
                  ? "Going back, rows written since keep what "
                      + c
                      + " is by a plain change of its type."
                  : "Going back, rows written since have nothing in " + c + ".",
              "Say what it is worked out from: plenzo draft convert "
                  + draft.id()
                  + " "
                  + table
                  + " "
                  + c
                  + " --back EXPRESSION"));
    }
  }
}
