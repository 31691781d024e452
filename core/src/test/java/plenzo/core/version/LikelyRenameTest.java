package plenzo.core.version;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;
import plenzo.core.component.ComponentKey;
import plenzo.core.table.Column;
import plenzo.core.table.TableStructure;

class LikelyRenameTest {
  private static final ComponentKey BAND = ComponentKey.of("table/fares.band");

  private static TableStructure table(String... columns) {
    return new TableStructure(
        Arrays.stream(columns)
            .map(c -> c.split(" "))
            .map(c -> new Column(c[0], c[1], false, null, null, null, null, null))
            .toList(),
        List.of(),
        List.of(),
        null);
  }

  private static List<LikelyRename> of(TableStructure was, TableStructure is) {
    return LikelyRename.of(BAND, was, is);
  }

  @Test
  void isAColumnGoneBesideANewOneOfItsType() {
    assertThat(of(table("code text", "amount integer"), table("code text", "fare integer")))
        .containsExactly(new LikelyRename(BAND, "amount", "fare", false));
  }

  @Test
  void isNoneWithoutBothOrWithAnotherType() {
    TableStructure was = table("code text", "amount integer");
    assertThat(of(was, table("code text"))).isEmpty();
    assertThat(of(was, table("code text", "amount integer", "fare integer"))).isEmpty();
    assertThat(of(was, table("code text", "fare bigint"))).isEmpty();
    assertThat(of(was, was)).isEmpty();
  }

  @Test
  void asksAboutEveryPair() {
    assertThat(of(table("a text", "b text"), table("c text", "d text")))
        .extracting(r -> r.was() + r.is())
        .containsExactly("ac", "ad", "bc", "bd");
  }

  @Test
  void staysTheSamePairWhenItIsDenied() {
    LikelyRename pair = new LikelyRename(BAND, "a", "b", false);
    assertThat(pair.deny().denied()).isTrue();
    assertThat(pair.samePair(pair.deny())).isTrue();
    assertThat(pair.samePair(new LikelyRename(BAND, "a", "c", false))).isFalse();
  }
}
