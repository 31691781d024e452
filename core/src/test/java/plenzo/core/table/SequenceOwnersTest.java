package plenzo.core.table;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;
import plenzo.core.object.Foundations;

class SequenceOwnersTest {
  private static final TableName NOTE = TableName.of("fares.note");
  private static final TableName ALARM = TableName.of("fares.alarm");

  private static TableStructure table(
      @Nullable String defaultText, @Nullable OwnedSequence owned, Setting... settings) {
    return new TableStructure(
        List.of(new Column("id", "integer", true, defaultText, null, null, owned, null, null)),
        List.of(),
        List.of(),
        null,
        List.of(settings));
  }

  private static final TableStructure OWNER =
      table(
          "nextval('fares.note_id_seq'::regclass)",
          new OwnedSequence("note_id_seq", "integer", "1", "1", "1", "9", false));
  private static final TableStructure DRAWING =
      table("nextval('fares.note_id_seq'::regclass)", null);

  @Test
  void aTableThatDrawsFromAnothersSequenceComesBehindIt() {
    Map<TableName, TableStructure> all = Map.of(NOTE, OWNER, ALARM, DRAWING);
    SequenceOwners owners = new SequenceOwners(all);
    assertThat(owners.of(ALARM, DRAWING)).containsExactly(NOTE);
    assertThat(owners.of(NOTE, OWNER)).isEmpty();
    assertThat(owners.of(ALARM, table("nextval('note_id_seq'::regclass)", null)))
        .as("a name without a schema is of the table's own")
        .containsExactly(NOTE);
    assertThat(owners.of(ALARM, table("nextval('other.note_id_seq'::regclass)", null))).isEmpty();
    assertThat(owners.of(ALARM, table("7", null))).isEmpty();
    assertThat(TableOrder.parentsFirst(all, List.of())).containsExactly(NOTE, ALARM);
    assertThat(new Foundations(all, Map.of()).of(List.of(ComponentKey.of("table/fares.alarm"))))
        .extracting(ComponentKey::toString)
        .containsExactly("table/fares.alarm", "table/fares.note");
  }

  @Test
  void aTableIsBuiltOnWhatItsRulesWriteTo() {
    TableStructure ruled =
        table(
            null,
            null,
            new Setting(
                "rule/away",
                "CREATE RULE away AS ON INSERT TO fares.alarm WHERE (new.id > 1) DO INSTEAD INSERT INTO fares.note (id) VALUES (new.id)"));
    assertThat(
            new Foundations(tables(ruled), Map.of())
                .of(List.of(ComponentKey.of("table/fares.alarm"))))
        .extracting(ComponentKey::toString)
        .containsExactly("table/fares.alarm", "table/fares.note");
  }

  private static Map<TableName, TableStructure> tables(TableStructure ruled) {
    Map<TableName, TableStructure> out =
        new TreeMap<>(java.util.Comparator.comparing(TableName::toString));
    out.put(NOTE, OWNER);
    out.put(ALARM, ruled);
    return out;
  }
}
