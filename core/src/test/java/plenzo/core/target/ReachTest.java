package plenzo.core.target;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import plenzo.core.component.TableName;
import plenzo.core.table.Constraint;
import plenzo.core.table.TableStructure;

class ReachTest {
  private final Map<TableName, TableStructure> tables = new LinkedHashMap<>();

  @BeforeEach
  void tables() {
    table("harbour");
    table("berth", key("berth", "harbour", "ON DELETE CASCADE"));
    table("call", key("call", "berth", "ON DELETE CASCADE"), key("call", "harbour", ""));
    table("toll", key("toll", "call", "ON DELETE SET NULL ON UPDATE CASCADE"));
    table("receipt", key("receipt", "toll", "ON DELETE CASCADE"));
  }

  private void table(String name, Constraint... keys) {
    tables.put(
        new TableName("s", name), new TableStructure(List.of(), List.of(keys), List.of(), null));
  }

  private static Constraint key(String from, String to, String act) {
    return new Constraint(
        from + "_" + to,
        Constraint.Type.FOREIGN,
        "FOREIGN KEY (a) REFERENCES s." + to + "(b) " + act,
        List.of("a"),
        new TableName("s", to),
        List.of("b"));
  }

  private List<String> paths(String from) {
    return Reach.from(new TableName("s", from), tables).stream()
        .map(p -> String.join(" ", p.stream().map(Reach.Edge::name).toList()))
        .toList();
  }

  @Test
  void followsKeysAsFarAsTheDatabaseItselfRemovesRows() {
    assertThat(paths("harbour"))
        .containsExactlyInAnyOrder(
            "berth_harbour",
            "berth_harbour call_berth",
            "berth_harbour call_berth toll_call",
            "call_harbour");
  }

  @Test
  void tellsWhatFollowsARemovalFromWhatFollowsAChange() {
    List<Reach.Edge> toll = Reach.from(new TableName("s", "call"), tables).get(0);

    assertThat(toll.get(0).onDelete()).isTrue();
    assertThat(toll.get(0).onUpdate()).isTrue();
    assertThat(toll.get(0).removes()).as("the reach ends: rows stay, with a null").isFalse();
  }

  @Test
  void endsWhereTablesPointAtOneAnotherInACircle() {
    table("harbour", key("harbour", "receipt", "ON DELETE CASCADE"));
    table("toll", key("toll", "call", "ON DELETE CASCADE"));

    assertThat(paths("harbour"))
        .hasSizeLessThan(20)
        .contains("berth_harbour call_berth toll_call receipt_toll harbour_receipt");
  }
}
