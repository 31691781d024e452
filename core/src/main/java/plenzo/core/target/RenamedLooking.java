package plenzo.core.target;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;
import plenzo.core.inventory.NamedThings;
import plenzo.core.inventory.Uncarried;
import plenzo.core.object.SchemaObject;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.RenamedRows;
import plenzo.core.records.RowCondition;
import plenzo.core.records.RowReader;
import plenzo.core.table.Renaming;

/**
 * A database as if its tables and columns had their names of afterwards: what a plan compares and
 * counts while they still have those of before. A query of a person's is asked as it stands.
 */
public final class RenamedLooking extends ForwardedLooking {
  private final Renaming renaming;
  private final Renaming back;

  /**
   * @param renaming what there is to do
   */
  public RenamedLooking(TablesLooking there, Renaming renaming) {
    super(there);
    this.renaming = renaming;
    this.back = renaming.inverse();
  }

  @Override
  public Optional<TableCapture> table(TableName table) {
    return renaming.isAway(table)
        ? Optional.empty()
        : there.table(renaming.before(table)).map(this::renamed);
  }

  private TableCapture renamed(TableCapture t) {
    Map<String, Integer> attributes = new HashMap<>();
    TableName is = renaming.named(t.table());
    Map<String, String> names = renaming.columns(is);
    t.attributes().forEach((name, n) -> attributes.put(names.getOrDefault(name, name), n));
    return new TableCapture(
        is,
        t.objectId(),
        renaming.of(t.table(), t.structure()),
        attributes,
        t.refusals(),
        t.risks(),
        t.longValues());
  }

  @Override
  public RowReader rows(RecordsDefinition records, @Nullable Set<String> columns) {
    TableName before = renaming.before(records.table());
    Map<String, String> was = back.columns(before);
    if (was.isEmpty() && before.equals(records.table())) {
      return there.rows(records, columns);
    }
    RowCondition condition = records.condition();
    return renamed(
        records.table(),
        there.rows(
            new RecordsDefinition(
                before,
                Renaming.names(records.key(), was),
                condition == null ? null : condition.renamed(was)),
            columns == null
                ? null
                : columns.stream()
                    .map(c -> was.getOrDefault(c, c))
                    .collect(Collectors.toCollection(TreeSet::new))));
  }

  private RowReader renamed(TableName table, RowReader rows) {
    return RenamedRows.of(rows, renaming.columns(table));
  }

  @Override
  public RowReader allRows(TableName table, List<String> key, List<Question> marks) {
    return renamed(
        table,
        there.allRows(
            renaming.before(table),
            Renaming.names(key, back.columns(renaming.before(table))),
            marks.stream().map(q -> q.renamed(back)).toList()));
  }

  @Override
  public RowReader countedRows(TableName table, List<String> key, Question question) {
    TableName before = renaming.before(table);
    return renamed(
        table,
        there.countedRows(
            before, Renaming.names(key, back.columns(before)), question.renamed(back)));
  }

  @Override
  public Question.Answer answer(Question question) {
    return there.answer(question.renamed(back));
  }

  @Override
  public List<@Nullable String> worked(TableName table, Question.Made made, Question.Tuples rows) {
    TableName before = renaming.before(table);
    Map<String, String> own = back.columns(before);
    return there.worked(
        before,
        new Question.Made(made.column(), made.type(), made.from().renamed(own, back)),
        rows.named(Renaming.names(rows.columns(), own)));
  }

  @Override
  public List<TableName> tables(String schema) {
    return there.tables(schema).stream().map(renaming::named).toList();
  }

  @Override
  public List<Uncarried> uncarried(String schema) {
    return there.uncarried(schema).stream().map(u -> u.renamed(renaming)).toList();
  }

  @Override
  public Set<NamedThings.Name> absent(Set<NamedThings.Name> names) {
    Set<NamedThings.Name> others = new TreeSet<>(names);
    others.removeIf(n -> renaming.isRenamed(new TableName(n.schema(), n.name())));
    return there.absent(others);
  }

  @Override
  public List<SchemaObject> objects(String schema) {
    // their text is the server's own: it follows by itself
    return there.objects(schema).stream().map(o -> o.renamed(renaming)).toList();
  }

  @Override
  public List<SchemaObject> granted(String schema) {
    return there.granted(schema).stream().map(o -> o.renamed(renaming)).toList();
  }

  @Override
  public Set<String> extensionsOf(Set<TableName> tables) {
    return there.extensionsOf(tables.stream().map(renaming::before).collect(Collectors.toSet()));
  }

  @Override
  public LastChange lastChange(ComponentKey key) {
    return there.lastChange(back.named(key));
  }
}
