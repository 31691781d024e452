package plenzo.core.component;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;

class ComponentOrderTest {
  private static ComponentKey key(String text) {
    return ComponentKey.of(text);
  }

  private static List<String> order(
      List<String> all, Map<String, List<String>> needs, String... moved) {
    Map<ComponentKey, List<ComponentKey>> asKeys = new HashMap<>();
    needs.forEach((k, v) -> asKeys.put(key(k), v.stream().map(ComponentOrderTest::key).toList()));
    return ComponentOrder.of(
            all.stream().map(ComponentOrderTest::key).toList(),
            asKeys,
            List.of(moved).stream().map(Before::of).toList())
        .keys()
        .stream()
        .map(ComponentKey::toString)
        .toList();
  }

  @Test
  void putsWhatIsNeededFirstAndTiesByKindAndName() {
    assertThat(
            order(
                List.of("form/a.f", "rule/a.r", "table/a.z", "table/a.b", "integration/a.i"),
                Map.of("form/a.f", List.of("rule/a.r"), "table/a.b", List.of("table/a.z"))))
        .containsExactly("table/a.z", "table/a.b", "integration/a.i", "rule/a.r", "form/a.f");
  }

  @Test
  void followsAPersonButNeverAgainstANeed() {
    List<String> tables = List.of("table/a.a", "table/a.b", "table/a.c");

    assertThat(order(tables, Map.of(), "table/a.c before table/a.a"))
        .containsExactly("table/a.b", "table/a.c", "table/a.a");
    assertThat(
            order(
                tables,
                Map.of("table/a.c", List.of("table/a.b"), "table/a.b", List.of("table/a.a")),
                "table/a.c before table/a.a"))
        .containsExactly("table/a.a", "table/a.b", "table/a.c");
  }

  @Test
  void namesACycleAsItsPath() {
    ComponentOrder o =
        ComponentOrder.of(
            List.of(key("rule/a.x"), key("rule/a.y"), key("form/a.z")),
            Map.of(
                key("rule/a.x"), List.of(key("form/a.z")),
                key("form/a.z"), List.of(key("rule/a.x"))),
            List.of());

    assertThat(o.keys()).hasSize(3).startsWith(key("rule/a.y"));
    assertThat(o.cycles())
        .containsExactly(List.of(key("rule/a.x"), key("form/a.z"), key("rule/a.x")));
  }

  /** What a body only names gives way to what the server holds it to. */
  @Test
  void aWishGivesWayInACircleAndIsKeptElsewhere() {
    ComponentKey aggregate = key("rule/a.x");
    ComponentKey function = key("rule/a.y");
    ComponentKey caller = key("rule/a.a");
    Map<ComponentKey, List<ComponentKey>> needs = Map.of(aggregate, List.of(function));

    ComponentOrder o =
        ComponentOrder.of(
            List.of(aggregate, function, caller),
            needs,
            Map.of(function, List.of(aggregate), caller, List.of(function)),
            List.of());

    assertThat(o.keys()).containsExactly(function, caller, aggregate);
    assertThat(o.cycles()).isEmpty();
  }

  /** Circles of wishes through needs: no need is ever given up for a wish. */
  @Test
  void keepsEveryNeedWhateverIsWished() {
    for (long seed = 1; seed <= 200; seed++) {
      Random random = new Random(seed);
      List<ComponentKey> all = new ArrayList<>();
      Map<ComponentKey, List<ComponentKey>> needs = new HashMap<>();
      Map<ComponentKey, List<ComponentKey>> wished = new HashMap<>();
      for (int n = 0; n < 30; n++) {
        all.add(key("rule/a.n" + n));
      }
      for (int n = 0; n < 30; n++) {
        int at = n;
        needs.put(all.get(n), all.stream().limit(at).filter(x -> random.nextInt(8) == 0).toList());
        wished.put(all.get(n), all.stream().filter(x -> random.nextInt(10) == 0).toList());
      }
      java.util.Collections.shuffle(all, random);

      ComponentOrder order = ComponentOrder.of(all, needs, wished, List.of());

      List<ComponentKey> keys = order.keys();
      assertThat(keys).as("seed " + seed).containsExactlyInAnyOrderElementsOf(all);
      assertThat(order.cycles()).isEmpty();
      needs.forEach(
          (k, of) -> of.forEach(n -> assertThat(keys.indexOf(n)).isLessThan(keys.indexOf(k))));
    }
  }

  /** Random graphs: everything once, and needs first unless they lie on a cycle. */
  @Test
  void keepsEveryNeedOfRandomGraphs() {
    for (long seed = 1; seed <= 200; seed++) {
      Random random = new Random(seed);
      List<ComponentKey> all = new ArrayList<>();
      Map<ComponentKey, List<ComponentKey>> needs = new HashMap<>();
      for (int n = 0; n < 30; n++) {
        all.add(key("rule/a.n" + n));
        List<ComponentKey> of = new ArrayList<>();
        for (int m = 0; m < n; m++) {
          if (random.nextInt(8) == 0) {
            of.add(all.get(m));
          }
        }
        needs.put(all.get(n), of);
      }
      java.util.Collections.shuffle(all, random);

      List<ComponentKey> keys = ComponentOrder.of(all, needs, List.of()).keys();

      assertThat(keys).as("seed " + seed).containsExactlyInAnyOrderElementsOf(all);
      needs.forEach(
          (k, of) -> of.forEach(n -> assertThat(keys.indexOf(n)).isLessThan(keys.indexOf(k))));
    }
  }
}
