package plenzo.core.table;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.jspecify.annotations.Nullable;
import org.junit.jupiter.api.Test;
import plenzo.core.component.TableName;

/** What is said of a table is not said of those below it once more, and what is theirs is kept. */
class InheritanceTest {
  private static final TableName VESSEL = TableName.of("fares.vessel");
  private static final TableName ASSET = TableName.of("fares.asset");
  private static final TableName FERRY = TableName.of("fares.ferry");

  private static Column column(String name, String type) {
    return new Column(name, type, false, null, null, null, null, null);
  }

  private static Column with(Column c, @Nullable String value) {
    return new Column(c.name(), c.type(), c.notNull(), value, null, null, null, c.comment(), null);
  }

  private static Constraint check(String name, String text) {
    return new Constraint(
        name, Constraint.Type.CHECK, "CHECK (" + text + ")", List.of(), null, List.of());
  }

  private static TableStructure table(Object... parts) {
    List<Column> columns = new ArrayList<>();
    List<Constraint> constraints = new ArrayList<>();
    List<TableName> parents = new ArrayList<>();
    for (Object p : parts) {
      if (p instanceof Column c) {
        columns.add(c);
      } else if (p instanceof Constraint k) {
        constraints.add(k);
      } else {
        parents.add((TableName) p);
      }
    }
    return new TableStructure(columns, constraints, List.of(), null)
        .ordered(columns.stream().map(Column::name).toList())
        .inheriting(parents);
  }

  private static final Column CODE = column("code", "text");
  private static final Column CARS = column("cars", "integer");
  private static final Column FLAG = column("flag", "text");

  private static Inheritance.Change change(
      TableName name, @Nullable TableStructure was, @Nullable TableStructure is) {
    return new Inheritance.Change(name, was, is);
  }

  private static List<String> said(Inheritance.Change... changes) {
    return Inheritance.changes(Arrays.asList(changes)).stream()
        .map(
            c ->
                c.act()
                    + " "
                    + c.table().table()
                    + (c.name().isEmpty() ? "" : " " + c.name())
                    + (c.isWhereLeft() ? " where left" : ""))
        .toList();
  }

  @Test
  void aColumnComesToThoseBelowByItself() {
    assertThat(
            said(
                change(VESSEL, table(CODE), table(CODE, FLAG)),
                change(FERRY, table(CODE, CARS, VESSEL), table(CODE, CARS, FLAG, VESSEL))))
        .containsExactly("ADD_COLUMN vessel flag");
  }

  @Test
  void itsDefaultIsEachTablesOwn() {
    assertThat(
            said(
                change(VESSEL, table(CODE), table(CODE, with(FLAG, "'none'"))),
                change(FERRY, table(CODE, VESSEL), table(CODE, with(FLAG, "'ferry'"), VESSEL))))
        .containsExactly("ADD_COLUMN vessel flag", "CHANGE_COLUMN ferry flag");
    assertThat(
            said(
                change(VESSEL, table(FLAG), table(with(FLAG, "'none'"))),
                change(FERRY, table(FLAG, VESSEL), table(FLAG, VESSEL))))
        .as("a default is handed to no table that is there")
        .containsExactly("CHANGE_COLUMN vessel flag");
  }

  @Test
  void anotherTypeAndNotNullAreHandedDown() {
    Column wide = column("cars", "bigint").withNotNull();
    assertThat(
            said(
                change(VESSEL, table(CARS), table(wide)),
                change(FERRY, table(CARS, VESSEL), table(wide, VESSEL))))
        .containsExactly("CHANGE_COLUMN vessel cars", "SET_NOT_NULL vessel cars");
    assertThat(
            said(
                change(VESSEL, table(wide), table(wide.withoutNotNull())),
                change(FERRY, table(wide, VESSEL), table(wide, VESSEL))))
        .as("what may be null above stays NOT NULL below where it is to")
        .containsExactly("CHANGE_COLUMN vessel cars", "SET_NOT_NULL ferry cars");
  }

  @Test
  void whatGoesAboveGoesBelowWhereItIsLeft() {
    assertThat(
            said(
                change(VESSEL, table(CODE, FLAG, check("c", "a")), table(CODE, check("c", "b"))),
                change(
                    FERRY,
                    table(CODE, FLAG, check("c", "a"), VESSEL),
                    table(CODE, check("c", "b"), VESSEL))))
        .containsExactly(
            "DROP_CONSTRAINT vessel c",
            "DROP_COLUMN vessel flag",
            "ADD_CONSTRAINT vessel c",
            "DROP_CONSTRAINT ferry c where left",
            "DROP_COLUMN ferry flag where left");
  }

  @Test
  void whatAnotherParentStillHasStays() {
    assertThat(
            said(
                change(ASSET, table(CODE), table(CODE)),
                change(VESSEL, table(CODE, FLAG), table(FLAG)),
                change(FERRY, table(CODE, FLAG, VESSEL, ASSET), table(CODE, FLAG, VESSEL, ASSET))))
        .containsExactly("DROP_COLUMN vessel code");
  }

  @Test
  void aTableThatKeepsWhatGoesAboveLeavesAndJoinsAgain() {
    assertThat(
            said(
                change(VESSEL, table(CODE, FLAG), table(CODE)),
                change(FERRY, table(CODE, FLAG, VESSEL), table(CODE, FLAG, CARS, VESSEL))))
        .containsExactly(
            "DROP_COLUMN vessel flag",
            "ADD_COLUMN ferry cars",
            "LEAVE_PARENT ferry fares.vessel",
            "JOIN_PARENT ferry fares.vessel");
  }

  @Test
  void aNewTableBringsItsOwnColumnsAlone() {
    TableStructure ferry =
        table(with(CODE, "'f'"), CARS, check("c", "a"), check("own", "b"), VESSEL);
    List<StructureChange> all =
        Inheritance.changes(
            List.of(
                change(VESSEL, table(CODE, check("c", "a")), table(CODE, check("c", "a"))),
                change(FERRY, null, ferry)));

    assertThat(all.get(0).act()).isEqualTo(StructureChange.Act.CREATE_TABLE);
    assertThat(all.get(0).structure().columns()).containsExactly(CARS);
    assertThat(all.get(0).structure().inherits()).containsExactly(VESSEL);
    assertThat(all.stream().skip(1).map(c -> c.act() + " " + c.name()))
        .containsExactly("CHANGE_COLUMN code", "ADD_CONSTRAINT own");
  }

  @Test
  void oneWithItsColumnsInAnotherOrderIsMadeAloneAndJoins() {
    List<StructureChange> all =
        Inheritance.changes(
            List.of(
                change(VESSEL, table(CODE), table(CODE)),
                change(FERRY, null, table(CARS, CODE, VESSEL))));

    assertThat(all.get(0).structure().inherits()).isEmpty();
    assertThat(all.get(0).structure().columns()).containsExactlyInAnyOrder(CARS, CODE);
    assertThat(all.get(all.size() - 1).act()).isEqualTo(StructureChange.Act.JOIN_PARENT);
    assertThat(said(change(FERRY, null, table(CODE, VESSEL))))
        .as("where nothing is known of the table above")
        .containsExactly("CREATE_TABLE ferry", "JOIN_PARENT ferry fares.vessel");
  }

  @Test
  void parentsAreLeftAndJoinedFromWhereTheyDiffer() {
    assertThat(said(change(FERRY, table(CODE, VESSEL, ASSET), table(CODE, ASSET))))
        .containsExactlyInAnyOrder(
            "LEAVE_PARENT ferry fares.vessel",
            "LEAVE_PARENT ferry fares.asset",
            "JOIN_PARENT ferry fares.asset");
    assertThat(said(change(FERRY, table(CODE, VESSEL), table(CODE, VESSEL, ASSET))))
        .containsExactly("JOIN_PARENT ferry fares.asset");
  }

  @Test
  void aFamilyIsFoundUpAndDown() {
    Map<TableName, TableStructure> all =
        Map.of(
            VESSEL,
            table(CODE),
            FERRY,
            table(CODE, VESSEL),
            ASSET,
            table(CODE, FERRY),
            TableName.of("fares.other"),
            table(CODE));
    assertThat(Inheritance.below(VESSEL, all)).containsExactly(FERRY, ASSET);
    assertThat(Inheritance.above(ASSET, all)).containsExactly(FERRY, VESSEL);
    assertThat(TableOrder.parentsFirst(all, List.of()).subList(0, 1))
        .as("what nothing is above comes before what inherits")
        .doesNotContain(FERRY, ASSET);
    Map<TableName, TableStructure> renamed = new java.util.HashMap<>();
    Renaming names = new Renaming(Map.of(VESSEL, TableName.of("fares.ship")), Map.of());
    all.forEach((name, s) -> renamed.put(name, names.of(name, s)));
    assertThat(renamed.get(FERRY).inherits()).containsExactly(TableName.of("fares.ship"));
  }

  @Test
  void aNewTableDeclaresWhatTheVersionDeclares() {
    Column dated = with(FLAG, "'none'");
    Column computed =
        new Column("worked", "text", false, null, null, null, null, null, "upper(code)");
    TableStructure vessel = table(with(CODE, "'v'"), dated, computed);
    TableStructure ferry = table(CODE, with(FLAG, "'f'"), computed, CARS, VESSEL);
    List<StructureChange> all =
        Inheritance.changes(
            List.of(
                change(VESSEL, vessel, vessel),
                change(FERRY, null, ferry.placed(new ColumnPlaces(ferry.order(), Set.of())))));

    assertThat(all.get(0).structure().columns())
        .as("what is computed above cannot be declared once more")
        .containsExactlyInAnyOrder(CARS, CODE, with(FLAG, "'f'"));
    assertThat(all.stream().skip(1).map(c -> c.act() + " " + c.name()))
        .as("a default that is not stated is the one from above")
        .containsExactly("CHANGE_COLUMN code");

    TableStructure one = ferry.placed(new ColumnPlaces(ferry.order(), Set.of("code", "worked")));
    assertThat(
            Inheritance.changes(List.of(change(VESSEL, vessel, vessel), change(FERRY, null, one)))
                .get(0)
                .structure()
                .columns())
        .containsExactlyInAnyOrder(CARS, with(FLAG, "'f'"));
  }
}
