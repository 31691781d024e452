package plenzo.connectors.git;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import org.jspecify.annotations.Nullable;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.Kind;
import plenzo.core.component.ObjectName;
import plenzo.core.component.TableName;
import plenzo.core.digest.Digest;
import plenzo.core.inventory.Uncarried;
import plenzo.core.item.ItemSeen;
import plenzo.core.json.Json;
import plenzo.core.object.SchemaObject;
import plenzo.core.records.CanonicalRows;
import plenzo.core.records.RecordsDefinition;
import plenzo.core.records.RowReader;
import plenzo.core.table.Column;
import plenzo.core.table.TableStructure;
import plenzo.core.target.Question;
import plenzo.core.target.TableCapture;
import plenzo.core.target.TablesLooking;
import plenzo.core.target.TargetFailed;

/** Tables and records of one commit. */
final class GitTables extends GitLooking implements TablesLooking {
  private static final int LONGEST_STRUCTURE = 4 << 20;

  GitTables(Layout layout) {
    super(layout);
  }

  @Override
  public List<TableName> tables(String schema) {
    return layout.keys().stream()
        .filter(k -> k.kind() == Kind.TABLE)
        .map(k -> TableName.of(k.name()))
        .filter(t -> t.schema().equals(schema))
        .toList();
  }

  private static TargetFailed failed(String what, Exception e) {
    return new TargetFailed(what + " cannot be read from the repository: " + e, false, e);
  }

  @Override
  public List<Uncarried> uncarried(String schema) {
    return List.of(); // what is no document is not there
  }

  /** Those whose documents can be read. */
  @Override
  public List<SchemaObject> objects(String schema) {
    List<SchemaObject> out = new ArrayList<>();
    for (ComponentKey key : keys(schema)) {
      try {
        out.add(read(key, Objects.requireNonNull(layout.find(key))));
      } catch (IllegalArgumentException e) {
        continue; // named by the inventory
      }
    }
    return out;
  }

  private List<ComponentKey> keys(String schema) {
    return layout.keys().stream()
        .filter(k -> k.kind().schemaObject() && ObjectName.of(k).schema().equals(schema))
        .sorted()
        .toList();
  }

  private SchemaObject read(ComponentKey key, Layout.Blob blob) {
    try {
      return SchemaObject.of(key, Json.parse(layout.text(blob, SchemaObject.LONGEST)));
    } catch (IOException e) {
      throw failed(key.toString(), e);
    }
  }

  @Override
  public void inventory(String scope, Consumer<ItemSeen> sink) {
    for (ComponentKey key : keys(scope)) {
      Layout.Blob blob = Objects.requireNonNull(layout.find(key));
      Digest content = Digest.of(blob.id().name());
      long size = 0;
      String refusal = "";
      try {
        SchemaObject object = read(key, blob);
        content = object.digest();
        size = object.canonical().length;
      } catch (IllegalArgumentException e) {
        // one broken document is one trouble: whoever picks it is told
        refusal = "its document: " + e.getMessage();
      }
      sink.accept(new ItemSeen(key, content, size, content.hex(), null, null, List.of(), refusal));
    }
  }

  @Override
  public Optional<TableCapture> table(TableName table) {
    Layout.Blob blob = layout.find(new ComponentKey(Kind.TABLE, table.componentName()));
    if (blob == null) {
      return Optional.empty();
    }
    try {
      TableStructure structure =
          TableStructure.of(Json.parse(layout.text(blob, LONGEST_STRUCTURE)).canonical());
      // documents have no object ids: their names tell them apart, so that nothing looks renamed
      Map<String, Integer> attributes = new HashMap<>();
      for (Column c : structure.columns()) {
        attributes.put(c.name(), c.name().hashCode());
      }
      return Optional.of(
          new TableCapture(
              table,
              table.toString().hashCode(),
              structure,
              attributes,
              List.of(),
              List.of(),
              /* longValues= */ false));
    } catch (IOException e) {
      throw failed("table/" + table, e);
    } catch (IllegalArgumentException e) {
      // one broken document is one trouble: whoever picks the table is told
      return Optional.of(TableCapture.unreadable(table, "its document: " + e.getMessage()));
    }
  }

  @Override
  public RowReader rows(RecordsDefinition records, @Nullable Set<String> columns) {
    Layout.Blob blob = layout.find(new ComponentKey(Kind.RECORDS, records.table().componentName()));
    if (blob == null) {
      throw failed("records/" + records.table(), new IOException("they are not there"));
    }
    try {
      RowReader reader =
          new CanonicalRows(layout.open(blob), records.key().size(), filled(records.table()));
      if (!reader.header().names().subList(0, records.key().size()).equals(records.key())) {
        reader.close();
        throw new IllegalArgumentException(
            "The document of records/"
                + records.table()
                + " does not begin with its key "
                + records.key());
      }
      return reader;
    } catch (IOException e) {
      throw failed("records/" + records.table(), e);
    }
  }

  /** Columns that have a value in every row, as the document of the table says. */
  private Set<String> filled(TableName table) {
    return table(table).map(TableCapture::structure).stream()
        .flatMap(s -> s.columns().stream())
        .filter(Column::notNull)
        .map(Column::name)
        .collect(Collectors.toSet());
  }

  @Override
  public RowReader allRows(TableName table, List<String> key, List<Question> marks) {
    if (!marks.isEmpty()) {
      throw new UnsupportedOperationException("A repository answers no questions");
    }
    return rows(new RecordsDefinition(table, key, null), null);
  }

  @Override
  public RowReader countedRows(TableName table, List<String> key, Question question) {
    throw new UnsupportedOperationException("A repository answers no questions");
  }

  @Override
  public List<Inside> sessions(List<String> accounts) {
    return List.of();
  }

  @Override
  public String query(String sql) {
    throw new UnsupportedOperationException("A repository answers no queries");
  }

  @Override
  public boolean answers() {
    return false;
  }

  @Override
  public Question.Answer answer(Question question) {
    throw new UnsupportedOperationException("A repository answers no questions");
  }

  @Override
  public List<@Nullable String> worked(TableName table, Question.Made made, Question.Tuples rows) {
    throw new UnsupportedOperationException("A repository works nothing out");
  }
}
