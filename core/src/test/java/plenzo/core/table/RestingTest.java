package plenzo.core.table;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.component.TableName;
import plenzo.core.table.StructureChange.Act;
import plenzo.core.table.StructureChange.Phase;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TablesDelta.TableDelta;

class RestingTest {
  private static final TableName ENTITY = TableName.of("fares.entity");
  private static final TableName NOTE = TableName.of("fares.note");

  private static Constraint key(Constraint.Type type, String name, String... columns) {
    String sort = type == Constraint.Type.PRIMARY ? "PRIMARY KEY" : "UNIQUE";
    return new Constraint(
        name,
        type,
        sort + " (" + String.join(", ", columns) + ")",
        List.of(columns),
        null,
        List.of());
  }

  private static Constraint foreign(String definition) {
    return new Constraint(
        "note_of", Constraint.Type.FOREIGN, definition, List.of("of"), ENTITY, List.of("id"));
  }

  private static final Constraint BY_ID = key(Constraint.Type.UNIQUE, "entity_id_key", "id");
  private static final Constraint FIRST = key(Constraint.Type.PRIMARY, "entity_pkey", "code");
  private static final Constraint LATER = key(Constraint.Type.PRIMARY, "entity_pkey", "id");
  private static final Constraint OF = foreign("FOREIGN KEY (of) REFERENCES fares.entity(id)");

  private static TableStructure table(Constraint... constraints) {
    return new TableStructure(List.of(), List.of(constraints), List.of(), null);
  }

  private static TablesDelta delta(
      TableStructure was,
      @Nullable TableStructure is,
      TableStructure notes,
      TableStructure notesLater) {
    return new TablesDelta(
        List.of(TableDelta.of(ENTITY, was, is, null), TableDelta.of(NOTE, notes, notesLater, null)),
        List.of());
  }

  private static List<String> acts(TablesDelta delta) {
    return java.util.stream.Stream.of(Phase.values())
        .flatMap(p -> delta.structure(p).stream())
        .map(c -> c.act() + " " + c.name())
        .toList();
  }

  @Test
  void aForeignKeyIsMadeAgainWhereItsKeyGivesWayToAnother() {
    TablesDelta delta = delta(table(FIRST, BY_ID), table(LATER), table(OF), table(OF));
    assertThat(acts(delta))
        .containsExactly(
            "DROP_FOREIGN_KEY note_of",
            "DROP_CONSTRAINT entity_id_key",
            "DROP_CONSTRAINT entity_pkey",
            "ADD_CONSTRAINT entity_pkey",
            "ADD_FOREIGN_KEY note_of");
    assertThat(delta.changes(delta.tables().get(1)))
        .extracting(StructureChange::act)
        .containsExactly(Act.DROP_FOREIGN_KEY, Act.ADD_FOREIGN_KEY);
  }

  @Test
  void itStaysWhereItsKeyStaysOrNoneComesInItsPlace() {
    assertThat(acts(delta(table(FIRST, BY_ID), table(BY_ID), table(OF), table(OF))))
        .containsExactly("DROP_CONSTRAINT entity_pkey");
    assertThat(acts(delta(table(FIRST, BY_ID), table(FIRST), table(OF), table(OF))))
        .as("nothing would keep it: a rule says so before")
        .containsExactly("DROP_CONSTRAINT entity_id_key");
    assertThat(acts(delta(table(BY_ID), null, table(OF), table())))
        .containsExactly("DROP_FOREIGN_KEY note_of", "DROP_TABLE ");
  }

  /** A rule holds the tables that it names, whichever of them goes first. */
  @Test
  void rulesGoBeforeTablesThatGo() {
    TableStructure ruled =
        new TableStructure(
            List.of(),
            List.of(),
            List.of(),
            null,
            List.of(
                new Setting(
                    "rule/away",
                    "CREATE RULE away AS ON INSERT TO fares.entity DO INSTEAD INSERT INTO fares.note DEFAULT VALUES")));
    TablesDelta delta =
        new TablesDelta(
            List.of(
                TableDelta.of(ENTITY, ruled, null, null), TableDelta.of(NOTE, table(), null, null)),
            List.of());
    assertThat(acts(delta)).containsExactly("DROP_RULE away", "DROP_TABLE ", "DROP_TABLE ");
  }

  @Test
  void oneThatChangesAnywayIsMadeOnce() {
    Constraint cascading =
        foreign("FOREIGN KEY (of) REFERENCES fares.entity(id) ON DELETE CASCADE");
    assertThat(acts(delta(table(BY_ID), table(LATER), table(OF), table(cascading))))
        .containsExactly(
            "DROP_FOREIGN_KEY note_of",
            "DROP_CONSTRAINT entity_id_key",
            "ADD_CONSTRAINT entity_pkey",
            "ADD_FOREIGN_KEY note_of");
  }

  @Test
  void theColumnsOfAKeyMayStandInAnyOrder() {
    TableStructure was = table(key(Constraint.Type.UNIQUE, "u", "b", "a"));
    TableStructure is = table(key(Constraint.Type.PRIMARY, "p", "a", "b"));
    assertThat(Resting.renews(was, is, List.of("a", "b"))).isTrue();
    assertThat(Resting.renews(was, is, List.of("a"))).isFalse();
    assertThat(Resting.renews(was, was, List.of("a", "b"))).isFalse();
    assertThat(Resting.renews(was, null, List.of("a", "b"))).isFalse();
    assertThat(Resting.of(table(OF), ENTITY, table(BY_ID), table(LATER))).containsExactly(OF);
    assertThat(Resting.of(table(OF), NOTE, table(BY_ID), table(LATER))).isEmpty();
  }
}
