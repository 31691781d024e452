package plenzo.core.object;

import static org.assertj.core.api.Assertions.assertThat;
import static plenzo.core.object.SomeObjects.labels;
import static plenzo.core.object.SomeObjects.object;
import static plenzo.core.object.SomeObjects.view;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.component.ComponentKey;
import plenzo.core.component.TableName;
import plenzo.core.object.ObjectDelta.Act;
import plenzo.core.object.SchemaObject.Sort;
import plenzo.core.records.Header;
import plenzo.core.table.Column;
import plenzo.core.table.Constraint;
import plenzo.core.table.TableStructure;
import plenzo.core.target.TablesDelta;
import plenzo.core.target.TablesDelta.TableDelta;

/** What must go and come again so that a plan can be carried out, and in which order. */
class ObjectsPlanTest {
  private static final TableName BAND = TableName.of("fares.band");

  private final Map<ComponentKey, SchemaObject> there = new TreeMap<>();
  private final Map<TableName, TableStructure> tables = new LinkedHashMap<>();
  private final List<ObjectsPlan.Change> changes = new ArrayList<>();
  private final List<TableDelta> deltas = new ArrayList<>();
  private Set<ComponentKey> owned = Set.of();

  private ObjectsPlanTest stands(SchemaObject... objects) {
    for (SchemaObject o : objects) {
      there.put(o.key(), o);
    }
    return this;
  }

  private ObjectsPlanTest becomes(String key, @Nullable SchemaObject next) {
    ComponentKey k = ComponentKey.of(key);
    changes.add(new ObjectsPlan.Change(k, there.get(k), next));
    return this;
  }

  private static TableStructure table(String... columns) {
    return new TableStructure(
        Arrays.stream(columns)
            .map(c -> c.split(":"))
            .map(c -> new Column(c[0], c[1], false, null, null, null, null, null))
            .toList(),
        List.of(),
        List.of(),
        null);
  }

  private ObjectsPlanTest table(@Nullable TableStructure is, @Nullable TableStructure next) {
    if (is != null) {
      tables.put(BAND, is);
    }
    deltas.add(TableDelta.of(BAND, is, next, null));
    return this;
  }

  private TablesDelta delta() {
    TablesDelta bare = new TablesDelta(deltas, List.of());
    return new TablesDelta(deltas, List.of(), ObjectsPlan.of(changes, there, tables, bare, owned));
  }

  private List<String> acts() {
    return delta().objects().stream().map(o -> o.act() + " " + o.key()).toList();
  }

  @Test
  void aViewOnAColumnThatChangesIsMadeAgainWithEverythingOnIt() {
    stands(
            view("fares.a", "a", "table/fares.band#column/code"),
            view("fares.b", "b", "view/fares.a"),
            object("trigger/fares.a.t", Sort.TRIGGER, "t", "view/fares.a", "routine/fares.f()"),
            object("routine/fares.f()", Sort.FUNCTION, "f"),
            view("fares.other", "o", "table/fares.band#column/amount"))
        .table(table("code:text", "amount:integer"), table("code:varchar(9)", "amount:integer"));

    assertThat(acts())
        .containsExactly(
            "REBUILD trigger/fares.a.t", "REBUILD view/fares.a", "REBUILD view/fares.b");
    assertThat(delta().changedObjects()).isEmpty();
  }

  @Test
  void whatUsesTheWholeTableIsMadeAgainForAnyColumn() {
    stands(object("routine/fares.f(fares.band)", Sort.FUNCTION, "f", "table/fares.band"))
        .table(table("code:text", "amount:integer"), table("code:text"));

    assertThat(acts()).containsExactly("REBUILD routine/fares.f(fares.band)");
  }

  @Test
  void aTriggerStaysWhenAColumnThatItDoesNotNameChanges() {
    stands(object("trigger/fares.band.t", Sort.TRIGGER, "t", "table/fares.band"))
        .table(table("code:text", "amount:integer"), table("code:text", "amount:bigint"));

    assertThat(acts()).isEmpty();
  }

  @Test
  void aTriggerGoesWithItsTable() {
    stands(object("trigger/fares.band.t", Sort.TRIGGER, "t", "table/fares.band"))
        .table(table("code:text"), null);

    assertThat(acts()).containsExactly("DROP trigger/fares.band.t");
  }

  @Test
  void aNewColumnAndAnotherDefaultDisturbNobody() {
    stands(view("fares.a", "a", "table/fares.band#column/code"))
        .table(table("code:text"), table("code:text", "note:text"));

    assertThat(acts()).isEmpty();
  }

  @Test
  void aConstraintThatGoesTakesTheViewThatIsGroupedByIt() {
    Constraint key =
        new Constraint(
            "band_pkey",
            Constraint.Type.PRIMARY,
            "PRIMARY KEY (code)",
            List.of("code"),
            null,
            List.of());
    TableStructure with =
        new TableStructure(table("code:text").columns(), List.of(key), List.of(), null);
    stands(view("fares.a", "a", "table/fares.band#constraint/band_pkey"))
        .table(with, table("code:text"));

    assertThat(acts()).containsExactly("REBUILD view/fares.a");
  }

  @Test
  void whatChangesAndIsBuiltOnWhatGoesIsMadeAsItWillBe() {
    SchemaObject next = view("fares.a", "other", "table/fares.band#column/code");
    stands(view("fares.a", "a", "table/fares.band#column/code"))
        .becomes("view/fares.a", next)
        .table(table("code:text"), table("code:varchar(9)"));

    assertThat(acts()).containsExactly("REBUILD view/fares.a");
    assertThat(delta().objects().get(0).result()).isEqualTo(next);
  }

  @Test
  void anEnumerationGainsALabelWhereItStandsUnlessTheRunUsesIt() {
    TableStructure band = table("kind:fares.kind");
    tables.put(BAND, band);
    stands(labels("fares.kind", "a", "c"))
        .becomes("type/fares.kind", labels("fares.kind", "a", "b", "c"));
    assertThat(acts()).containsExactly("ALTER type/fares.kind");

    deltas.add(
        TableDelta.of(
            BAND,
            band,
            band,
            new TablesDelta.RowsDelta(
                new Header(List.of("kind"), List.of("fares.kind"), 0),
                java.util.Set.of(),
                List.of(),
                0,
                0,
                1,
                () -> {
                  throw new IllegalStateException("not read");
                })));
    assertThat(acts()).containsExactly("REBUILD type/fares.kind");
    assertThat(delta().objects().get(0).columns())
        .extracting(ObjectDelta.Column::column)
        .containsExactly("kind");
  }

  @Test
  void aViewThatNamesTheNewLabelMakesItAnExchange() {
    tables.put(BAND, table("kind:fares.kind", "kinds:fares.kind[]", "code:text"));
    stands(labels("fares.kind", "a"))
        .becomes("type/fares.kind", labels("fares.kind", "a", "it's"))
        .becomes("view/fares.v", view("fares.v", "SELECT 'it''s'::fares.kind"));

    assertThat(acts()).containsExactly("REBUILD type/fares.kind", "MAKE view/fares.v");
    assertThat(delta().objects().get(0).columns())
        .extracting(ObjectDelta.Column::column)
        .containsExactly("kind", "kinds");
  }

  @Test
  void whatIsBuiltOnAnExchangedColumnIsMadeAgain() {
    tables.put(BAND, table("kind:fares.kind"));
    stands(labels("fares.kind", "a", "b"), view("fares.v", "v", "table/fares.band#column/kind"))
        .becomes("type/fares.kind", labels("fares.kind", "a"));

    assertThat(acts()).containsExactly("REBUILD type/fares.kind", "REBUILD view/fares.v");
  }

  @Test
  void anOrderHoldsBothWays() {
    stands(
            view("fares.old", "o", "routine/fares.f()"),
            object("routine/fares.f()", Sort.FUNCTION, "f"),
            labels("fares.was", "a"))
        .becomes("view/fares.old", null)
        .becomes("routine/fares.f()", null)
        .becomes("type/fares.was", null)
        .becomes("type/fares.kind", labels("fares.kind", "a"))
        .becomes(
            "routine/fares.g(fares.kind)",
            object("routine/fares.g(fares.kind)", Sort.FUNCTION, "g", "type/fares.kind"))
        .becomes("view/fares.v", view("fares.v", "v", "table/fares.band#column/kind"))
        .becomes(
            "trigger/fares.band.t",
            object("trigger/fares.band.t", Sort.TRIGGER, "t", "table/fares.band"))
        .becomes("view/fares.w", view("fares.w", "w", "view/fares.v"))
        .table(table("kind:fares.was"), table("kind:fares.kind"));

    ObjectsOrder order = ObjectsOrder.of(delta());

    assertThat(order.goFirst())
        .extracting(o -> o.key().toString())
        .containsExactly("view/fares.old", "routine/fares.f()");
    assertThat(order.come())
        .extracting(ComponentKey::toString)
        .containsExactly("type/fares.kind", "table/fares.band", "routine/fares.g(fares.kind)");
    assertThat(order.goLater())
        .extracting(o -> o.key().toString())
        .containsExactly("type/fares.was");
    assertThat(order.comeLast())
        .extracting(o -> o.key().toString())
        .containsExactly("view/fares.v", "view/fares.w", "trigger/fares.band.t");
  }

  @Test
  void aRoutineThatADefaultUsesComesBeforeItsTableAndGoesAfterIt() {
    Column drawn = new Column("code", "text", false, "fares.f()", null, null, null, null);
    TableStructure uses = new TableStructure(List.of(drawn), List.of(), List.of(), null);
    SchemaObject f = object("routine/fares.f()", Sort.FUNCTION, "f");
    becomes("routine/fares.f()", f).table(null, uses);
    assertThat(ObjectsOrder.of(delta()).come())
        .extracting(ComponentKey::toString)
        .containsExactly("routine/fares.f()", "table/fares.band");

    TablesDelta away =
        new TablesDelta(
            List.of(TableDelta.of(BAND, uses, null, null)),
            List.of(),
            List.of(new ObjectDelta(f.key(), Act.DROP, f, null, List.of())));
    assertThat(ObjectsOrder.of(away).goFirst()).isEmpty();
    assertThat(ObjectsOrder.of(away).goLater()).hasSize(1);
  }

  @Test
  void aMaterializedViewOfTheVersionIsFilledAgainOverOthers() {
    SchemaObject kept = object("view/fares.kept", Sort.MATERIALIZED_VIEW, "k", "view/fares.a");
    stands(view("fares.a", "a", "table/fares.band#column/code"), kept);
    TableStructure band = table("code:text");
    tables.put(BAND, band);
    TablesDelta.RowsDelta rows =
        new TablesDelta.RowsDelta(
            new Header(List.of("code"), List.of("text"), 1),
            java.util.Set.of(),
            List.of(),
            0,
            0,
            1,
            () -> {
              throw new IllegalStateException("not read");
            });
    deltas.add(TableDelta.of(BAND, band, band, rows));
    assertThat(acts()).as("somebody else's is left alone").isEmpty();

    owned = Set.of(kept.key());
    assertThat(acts()).containsExactly("REFRESH view/fares.kept");
  }

  /** What only gained something where it stands is made again when one goes back. */
  @Test
  void whatGainedSomethingGoesOnTheWayBack() {
    SchemaObject one =
        SomeObjects.shaped("type/fares.place", Sort.COMPOSITE, Map.of(), "pier text");
    SchemaObject two =
        SomeObjects.shaped(
            "type/fares.place", Sort.COMPOSITE, Map.of(), "pier text", "deck integer");
    assertThat(delta(Act.ALTER, one, two).goesOnReturn()).isTrue();
    assertThat(delta(Act.ALTER, one, one).goesOnReturn()).isFalse();
    assertThat(delta(Act.REBUILD, one, two).goesOnReturn()).as("the way there says so").isFalse();
    assertThat(delta(Act.MAKE, null, two).goesOnReturn()).isFalse();
  }

  private static ObjectDelta delta(Act act, @Nullable SchemaObject was, SchemaObject is) {
    return new ObjectDelta(is.key(), act, was, is, List.of());
  }
}
