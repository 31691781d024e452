package plenzo.core.target;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;
import plenzo.core.inventory.NamedThings;
import plenzo.core.inventory.Uncarried;
import plenzo.core.object.SchemaObject;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.RowReader;
import plenzo.core.source.RefusedDocument;
import plenzo.core.version.SemVer;

/** A look at a database by way of another one; what is seen otherwise is said by who extends it. */
abstract class ForwardedLooking implements TablesLooking {
  final TablesLooking there;

  ForwardedLooking(TablesLooking there) {
    this.there = there;
  }

  @Override
  public List<String> schemas(String space) {
    return there.schemas(space);
  }

  @Override
  public List<TableName> tables(String schema) {
    return there.tables(schema);
  }

  @Override
  public List<Uncarried> uncarried(String schema) {
    return there.uncarried(schema);
  }

  @Override
  public Set<NamedThings.Name> absent(Set<NamedThings.Name> names) {
    return there.absent(names);
  }

  @Override
  public List<SchemaObject> objects(String schema) {
    return there.objects(schema);
  }

  @Override
  public List<SchemaObject> granted(String schema) {
    return there.granted(schema);
  }

  @Override
  public Set<String> extensionsOf(Set<TableName> tables) {
    return there.extensionsOf(tables);
  }

  @Override
  public Optional<TableCapture> table(TableName table) {
    return there.table(table);
  }

  @Override
  public RowReader rows(RecordsDefinition records, @Nullable Set<String> columns) {
    return there.rows(records, columns);
  }

  @Override
  public RowReader allRows(TableName table, List<String> key, List<Question> marks) {
    return there.allRows(table, key, marks);
  }

  @Override
  public RowReader countedRows(TableName table, List<String> key, Question question) {
    return there.countedRows(table, key, question);
  }

  @Override
  public Question.Answer answer(Question question) {
    return there.answer(question);
  }

  @Override
  public List<@Nullable String> worked(TableName table, Question.Made made, Question.Tuples rows) {
    return there.worked(table, made, rows);
  }

  @Override
  public LastChange lastChange(ComponentKey key) {
    return there.lastChange(key);
  }

  @Override
  public List<Extension> extensions() {
    return there.extensions();
  }

  @Override
  public Grants grants(String schema) {
    return there.grants(schema);
  }

  @Override
  public List<Inside> sessions(List<String> accounts) {
    return there.sessions(accounts);
  }

  @Override
  public String query(String sql) {
    return there.query(sql);
  }

  @Override
  public Optional<TargetIdentity> identity() {
    return there.identity();
  }

  @Override
  public String instance() {
    return there.instance();
  }

  @Override
  public Optional<SemVer> release() {
    return there.release();
  }

  @Override
  public boolean answers() {
    return there.answers();
  }

  @Override
  public List<RunSeen> runs(int limit) {
    return there.runs(limit);
  }

  @Override
  public List<Leftover> leftovers() {
    return there.leftovers();
  }

  @Override
  public List<RefusedDocument> refused() {
    return there.refused();
  }

  @Override
  public List<RefusedDocument> passedOver(String scope) {
    return there.passedOver(scope);
  }

  @Override
  public void cut() {
    there.cut();
  }

  @Override
  public void close() {
    there.close();
  }

  @Override
  public boolean readsAllRows() {
    return there.readsAllRows();
  }

  @Override
  public Set<String> lackedRoles(Set<String> roles) {
    return there.lackedRoles(roles);
  }

  @Override
  public Set<String> shutOut(String schema, Set<String> roles) {
    return there.shutOut(schema, roles);
  }
}
