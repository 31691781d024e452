package plenzo.engine.comparing;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import plenzo.core.comparison.Decision;
import plenzo.core.comparison.Difference;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.TableName;
import plenzo.core.records.Row;
import plenzo.core.records.RowReader;
import plenzo.core.table.Constraint;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Question;
import plenzo.core.target.Reach;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TablesLooking;
import plenzo.core.way.Obstacle;

/** Rows that a way back would take away and that rows of others point at, with what uses them. */
public final class InUse {
  private final TablesLooking looking;
  private final Compared compared;
  private final TablesDelta delta;
  private final Map<TableName, TableStructure> after;
  private final Map<String, Map<String, Long>> users = new LinkedHashMap<>();
  private final Map<String, Obstacle.Use> rows = new LinkedHashMap<>();

  private InUse(TablesLooking looking, Compared compared) {
    this.looking = looking;
    this.compared = compared;
    this.delta = compared.written();
    this.after = delta.after(compared.tables());
  }

  /** In the order of components and keys. */
  public static List<Obstacle.Use> of(Compared compared, TablesLooking looking) {
    InUse all = new InUse(looking, compared);
    for (TablesDelta.TableDelta t : all.delta.tables()) {
      TablesDelta.RowsDelta rows = t.rows();
      if (rows != null && rows.removed() > 0 && t.present() != null && t.result() != null) {
        for (List<Reach.Edge> path : Reach.from(t.table(), all.after)) {
          if (!path.get(path.size() - 1).onDelete() && path.stream().allMatch(all::stands)) {
            all.along(t, rows, path);
          }
        }
      }
    }
    return List.copyOf(all.rows.values());
  }

  /**
   * What was decided, with the rows named that are left there because they are used.
   *
   * @param asked what people chose
   */
  public static Map<String, Decision> named(List<Obstacle.Use> uses, Map<String, Decision> asked) {
    Map<String, Decision> out = new TreeMap<>(asked);
    Map<ComponentKey, Integer> many = new HashMap<>();
    uses.forEach(u -> many.merge(u.records(), 1, Integer::sum));
    for (Obstacle.Use u : uses) {
      if (Obstacle.chosen(asked, u.records(), u.keyLine()) == Decision.KEEP) {
        boolean named = Objects.requireNonNull(many.get(u.records())) <= Obstacle.MOST_NAMED;
        out.put(named ? u.at() : u.records() + Obstacle.ALL_THAT_GO, Decision.KEEP);
      }
    }
    return out;
  }

  private boolean stands(Reach.Edge edge) {
    TableStructure now = compared.tables().get(edge.hop().table());
    return now != null && edge.hop().columns().stream().allMatch(c -> now.column(c).isPresent());
  }

  /** Rows of one table that go, in chunks, and what points at them along one path of keys. */
  private void along(
      TablesDelta.TableDelta t, TablesDelta.RowsDelta removed, List<Reach.Edge> path) {
    List<String> referenced = path.get(0).hop().referenced();
    List<Integer> at = referenced.stream().map(removed.columns()::position).toList();
    if (at.contains(-1)) {
      return;
    }
    List<String> types = at.stream().map(removed.columns().types()::get).toList();
    Map<List<@Nullable String>, Row> chunk = new LinkedHashMap<>();
    try (TablesDelta.Changes changes = removed.source().open()) {
      for (TablesDelta.RowChange c = changes.next(); c != null; c = changes.next()) {
        Row row = c.present();
        if (c.act() != Difference.REMOVED || row == null) {
          continue;
        }
        List<@Nullable String> value = new ArrayList<>();
        for (String name : referenced) {
          value.add(row.get(row.header().position(name)));
        }
        if (!value.contains(null)) {
          chunk.put(value, row);
        }
        if (chunk.size() == Question.Tuples.MOST) {
          ask(t, path, types, chunk);
          chunk.clear();
        }
      }
    }
    if (!chunk.isEmpty()) {
      ask(t, path, types, chunk);
    }
  }

  private void ask(
      TablesDelta.TableDelta t,
      List<Reach.Edge> path,
      List<String> types,
      Map<List<@Nullable String>, Row> chunk) {
    Question q = question(t.table(), path, types, List.copyOf(chunk.keySet()));
    Question.Hop last = path.get(path.size() - 1).hop();
    if (path.size() > 1) {
      // through rows that go along by themselves: which row it is for, is asked one by one
      chunk.forEach(
          (value, row) ->
              used(
                  t,
                  row,
                  last.table(),
                  looking.answer(question(t.table(), path, types, List.of(value))).count()));
      return;
    }
    List<String> key =
        Objects.requireNonNull(after.get(last.table()))
            .primaryKey()
            .map(Constraint::columns)
            .orElse(List.of());
    ComponentKey records = new ComponentKey(Kind.RECORDS, last.table().componentName());
    try (Alongside own = own(records, key);
        RowReader pointing = looking.countedRows(last.table(), key, q)) {
      for (Row row = pointing.next(); row != null; row = pointing.next()) {
        if (!key.isEmpty() && own.at(row) != null) {
          continue; // the way back writes or removes it itself
        }
        List<@Nullable String> value = new ArrayList<>();
        for (String c : last.columns()) {
          value.add(row.get(row.header().position(c)));
        }
        Row goes = chunk.get(value);
        if (goes != null) {
          used(t, goes, last.table(), 1);
        }
      }
    }
  }

  private Alongside own(ComponentKey records, List<String> key) {
    TablesDelta.TableDelta own = delta.find(TableName.of(records.name())).orElse(null);
    boolean sameKey =
        own != null
            && own.rows() != null
            && own.rows()
                .columns()
                .names()
                .subList(0, own.rows().columns().keyColumns())
                .equals(key);
    return sameKey ? compared.own(records) : Alongside.of(null);
  }

  private static Question question(
      TableName table,
      List<Reach.Edge> path,
      List<String> types,
      List<List<@Nullable String>> values) {
    return Question.of(Question.Type.POINTING, table)
        .along(path.stream().map(Reach.Edge::hop).toList())
        .given(new Question.Tuples(path.get(0).hop().referenced(), types, values));
  }

  private void used(TablesDelta.TableDelta t, Row row, TableName by, long count) {
    if (count == 0) {
      return;
    }
    ComponentKey records = new ComponentKey(Kind.RECORDS, t.table().componentName());
    String at = records + "#row/" + row.keyLine();
    Map<String, Long> all = users.computeIfAbsent(at, k -> new LinkedHashMap<>());
    all.merge(by.toString(), count, Long::sum);
    rows.put(at, new Obstacle.Use(records, row.keyLine(), all));
  }
}
