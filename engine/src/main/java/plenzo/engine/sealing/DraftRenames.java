package plenzo.engine.sealing;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import java.util.function.Consumer;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.impact.Finding;
import plenzo.core.impact.Finding.Severity;
import plenzo.core.table.Renaming;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TableCapture;
import plenzo.core.version.Draft;
import plenzo.core.version.LikelyRename;
import plenzo.core.version.Removal;
import plenzo.core.version.Version;
import plenzo.core.version.VersionEntry;
import plenzo.engine.content.Contents;
import plenzo.engine.setup.Renames;
import plenzo.engine.setup.SiteLook;

/**
 * What of a draft has another name at its source than in the version that it starts from: what the
 * server's own numbers tell, what people said, and what must be asked.
 */
final class DraftRenames {
  private final Contents contents;
  private final Renames renames;
  private final Draft draft;
  private final Renames.Of version;
  private final Consumer<Finding> found;
  private final List<LikelyRename> likely = new ArrayList<>();
  private @Nullable SiteLook looked;
  private Renames.@Nullable Known known;

  /**
   * @param version the one drafted from
   * @param found takes what there is to say
   */
  DraftRenames(
      Contents contents,
      Renames renames,
      Draft draft,
      Renames.Of version,
      Consumer<Finding> found) {
    this.contents = contents;
    this.renames = renames;
    this.draft = draft;
    this.version = version;
    this.found = found;
  }

  private Renames.Known known(SiteLook look) {
    if (look != looked) {
      looked = look;
      known = renames.at(version, look.tables());
    }
    return Objects.requireNonNull(known);
  }

  /** Every pair that was found, asked or denied. */
  List<LikelyRename> likely() {
    return likely;
  }

  /**
   * Picked tables that have another name at the source than in the version drafted from, and their
   * columns that have. What is found is said; what only a person knows is asked.
   *
   * @return from the names of the version to those at the source
   */
  Renaming of(SiteLook look, Version parent, List<Draft.Pick> picks) {
    if (look.findTables().isEmpty()) {
      return Renaming.NONE;
    }
    Renaming all = known(look).tables(parent, draft.renames());
    Map<TableName, TableName> some = new LinkedHashMap<>();
    all.tables()
        .forEach(
            (was, is) -> {
              if (all.givingWay().contains(is)) {
                if (isPicked(picks, was)) {
                  some.put(was, is);
                  goes(
                      ComponentKey.of("table/" + is),
                      "",
                      was.toString(),
                      all.before(was).toString());
                }
              } else if (isPicked(picks, is)) {
                some.put(was, is);
                renamedTable(was, is);
              } else if (isPicked(picks, was) && all.isRenamed(was)) {
                pickedWithout(was, is, all.before(was));
              } else if (isPicked(picks, was)) {
                pickedAs(was, is, look.tables().table(was).isPresent());
              }
            });
    Renaming here = new Renaming(some, Map.of());
    likelyTables(look, parent, picks, here);
    draft.renames().stream()
        .filter(r -> r.denied() && r.ofTable())
        .filter(r -> likely.stream().noneMatch(r::samePair))
        .filter(r -> parent.entry(r.component()).isPresent())
        .forEach(likely::add); // of two that took each other's name, none is gone
    Map<TableName, Map<String, String>> columns = new LinkedHashMap<>();
    for (Draft.Pick p : picks) {
      if (p.key().kind() == Kind.TABLE) {
        TableName is = TableName.of(p.key().name());
        Map<String, String> own = columns(look, parent, p.key(), here.before(is));
        columns.put(is, own);
        if (!own.isEmpty()) {
          rowsByOldNames(parent, picks, is, here);
        }
      }
    }
    return known(look).taking(new Renaming(some, columns));
  }

  private static boolean isPicked(List<Draft.Pick> picks, TableName table) {
    return picks.stream()
        .anyMatch(p -> p.key().equals(new ComponentKey(Kind.TABLE, table.componentName())));
  }

  private void renamedTable(TableName was, TableName is) {
    LikelyRename pair =
        new LikelyRename(new ComponentKey(Kind.TABLE, was.componentName()), is).same();
    likely.add(pair);
    found.accept(
        Finding.said(
            "renamed",
            Severity.NOTE,
            pair.is(),
            was + " is " + is + " by now: its rows go with it.",
            "Nothing, unless these are two tables"));
  }

  /** What is gone has no name any more that it could stay by: a person agrees that it goes. */
  private void goes(ComponentKey table, String part, String old, String other) {
    Removal removal = new Removal(table, part);
    if (!draft.removals().contains(removal)) {
      block(
          "name-reused",
          table + (part.isEmpty() ? "" : "#" + part),
          old
              + " is gone, and "
              + other
              + " took its name: what it holds goes from the stages too.",
          "Tick it among what is gone: plenzo draft take-away "
              + draft.id()
              + " --all-gone, or with \""
              + removal
              + "\"");
    }
  }

  /** A table that has the name by now of one that was left out. */
  private void pickedWithout(TableName was, TableName is, TableName now) {
    block(
        "looks-renamed",
        "table/" + was,
        was + " is " + is + " by now, and what is called " + was + " was " + now + ".",
        "Take both: plenzo draft add " + draft.id() + " table/" + is);
  }

  /**
   * A table that was picked under the name that it had then.
   *
   * @param taken whether another table has that name
   */
  private void pickedAs(TableName was, TableName is, boolean taken) {
    block(
        "looks-renamed",
        "table/" + was,
        was + " is " + is + " by now" + (taken ? ", and another table took its name." : "."),
        (taken
                ? "Take both: "
                : "Take it by its new name: plenzo draft remove "
                    + draft.id()
                    + " table/"
                    + was
                    + " and ")
            + "plenzo draft add "
            + draft.id()
            + " table/"
            + is);
  }

  /** A table with the columns of one that is gone is asked about where no number tells. */
  private void likelyTables(SiteLook look, Version parent, List<Draft.Pick> picks, Renaming known) {
    for (VersionEntry e : parent.entries()) {
      TableName was = e.key().kind() == Kind.TABLE ? TableName.of(e.key().name()) : null;
      if (was == null || known.tables().containsKey(was) || look.tables().table(was).isPresent()) {
        continue;
      }
      for (Draft.Pick p : picks) {
        boolean fresh = p.key().kind() == Kind.TABLE && parent.entry(p.key()).isEmpty();
        TableName is = fresh ? TableName.of(p.key().name()) : was;
        if (fresh && !known.isRenamed(is)) {
          likelyTable(look, e, is);
        }
      }
    }
  }

  private void likelyTable(SiteLook look, VersionEntry was, TableName is) {
    LikelyRename pair = new LikelyRename(was.key(), is);
    boolean denied = draft.renames().stream().anyMatch(r -> r.samePair(pair) && r.denied());
    if (denied) {
      likely.add(pair.deny());
      return;
    }
    boolean alike =
        look.tables()
            .table(is)
            .filter(t -> LikelyRename.alike(contents.structure(was.content()), t.structure()))
            .isPresent();
    if (!alike || known(look).tells(TableName.of(was.key().name()))) {
      return;
    }
    likely.add(pair);
    block(
        "likely-renamed",
        pair.was(),
        pair.was()
            + " is gone and "
            + pair.is()
            + " with the same columns is new: if it was renamed, its rows would be lost.",
        "Say which it is: plenzo draft renamed "
            + draft.id()
            + " "
            + pair.was()
            + " "
            + pair.is()
            + " for one table, whose rows go with it, or plenzo draft two-tables with the same");
  }

  /**
   * Columns of the version drafted from that have another name at the source, as its server's own
   * numbers tell, or as a person said.
   */
  private Map<String, String> columns(
      SiteLook look, Version parent, ComponentKey key, TableName before) {
    Map<String, String> out = new TreeMap<>();
    TableName table = TableName.of(key.name());
    TableStructure was =
        parent
            .entry(new ComponentKey(Kind.TABLE, before.componentName()))
            .map(e -> contents.structure(e.content()))
            .orElse(TableStructure.EMPTY);
    TableStructure is =
        look.tables().table(table).map(TableCapture::structure).orElse(TableStructure.EMPTY);
    List<LikelyRename> pairs = new ArrayList<>();
    known(look)
        .columns(before, table)
        .forEach((old, now) -> pairs.add(new LikelyRename(key, old, now, false).same()));
    draft.renames().stream()
        .filter(LikelyRename::denied)
        .filter(d -> pairs.removeIf(d::samePair))
        .forEach(likely::add);
    draft.renames().stream()
        .filter(r -> r.component().equals(key) && r.isOne() && !r.ofTable())
        .filter(r -> pairs.stream().noneMatch(r::samePair))
        .forEach(pairs::add);
    Map<String, String> all = new TreeMap<>();
    pairs.stream()
        .filter(r -> was.column(r.was()).isPresent() && is.column(r.is()).isPresent())
        .forEach(r -> all.put(r.was(), r.is()));
    Map<String, String> free =
        Renaming.atHand(
            Renaming.leaving(all, c -> was.column(c).isPresent()),
            c -> was.column(c).isPresent(),
            c -> true);
    free.forEach(
        (old, now) -> {
          if (Renaming.isGoing(now)) {
            String other =
                free.entrySet().stream()
                    .filter(n -> n.getValue().equals(old))
                    .map(Map.Entry::getKey)
                    .findFirst()
                    .orElseThrow();
            out.put(old, now);
            goes(key, "column/" + now, old + " of " + table, other);
          }
        });
    pairs.stream()
        .filter(r -> free.containsKey(r.was()))
        .forEach(
            r -> {
              likely.add(r);
              out.put(r.was(), r.is());
              found.accept(
                  Finding.said(
                      "renamed",
                      Severity.NOTE,
                      key + "#column/" + r.is(),
                      r.was() + " is " + r.is() + " by now: its values go with it.",
                      "Nothing, unless these are two columns"));
            });
    return out;
  }

  /**
   * A pair of columns is asked about where the server's own numbers do not say what it is.
   *
   * @param before the table's name in the version drafted from
   */
  void ask(
      SiteLook look, ComponentKey key, TableName before, TableStructure was, TableStructure is) {
    if (known(look).tellsColumns(before, TableName.of(key.name()))) {
      return;
    }
    for (LikelyRename pair : LikelyRename.of(key, was, is)) {
      if (Renaming.isGoing(pair.was())
          || likely.stream().anyMatch(l -> l.isOne() && l.touches(pair))) {
        continue;
      }
      boolean denied =
          isWorkedOut(pair)
              || draft.renames().stream().anyMatch(r -> r.samePair(pair) && r.denied());
      likely.add(denied ? pair.deny() : pair);
      if (!denied) {
        block(
            "likely-renamed",
            key + "#column/" + pair.was(),
            pair.was()
                + " is gone and "
                + pair.is()
                + " of the same type is new: if it was renamed, its values would be lost.",
            "Say which it is: plenzo draft renamed "
                + draft.id()
                + " "
                + key
                + " "
                + pair.was()
                + " "
                + pair.is()
                + " for one column, whose values go with it, or plenzo draft two-columns with the same");
      }
    }
  }

  /** What a person stated that one is worked out from is another column. */
  private boolean isWorkedOut(LikelyRename pair) {
    return draft.conversions().stream()
        .anyMatch(
            c ->
                !c.back()
                    && c.component().equals(pair.component())
                    && c.column().equals(pair.is()));
  }

  /** Rows that the version has by the old names of columns would not be those of its table. */
  private void rowsByOldNames(
      Version parent, List<Draft.Pick> picks, TableName table, Renaming here) {
    ComponentKey records = new ComponentKey(Kind.RECORDS, table.componentName());
    ComponentKey was = new ComponentKey(Kind.RECORDS, here.before(table).componentName());
    if (parent.entry(was).isPresent() && picks.stream().noneMatch(p -> p.key().equals(records))) {
      block(
          "missing",
          "table/" + table,
          "Rows of " + was + " stand in the version by names that columns do not have any more.",
          "Take them too: plenzo draft add " + draft.id() + " " + records);
    }
  }

  private void block(String rule, String place, String sentence, String advice) {
    found.accept(Finding.of(rule, Severity.BLOCKER, place, sentence, 1, advice, null));
  }
}
