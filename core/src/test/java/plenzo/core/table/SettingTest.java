package plenzo.core.table;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import plenzo.core.component.TableName;

/** What is set of a table, in one form. */
class SettingTest {
  /** The server prints columns in their order in the table, which two sites may have otherwise. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "CREATE STATISTICS fares.s ON zone, kind FROM fares.band | CREATE STATISTICS fares.s ON kind, zone FROM fares.band",
        "CREATE STATISTICS fares.s (ndistinct) ON z, \"a b\", (lower(z)), (y) FROM fares.band | CREATE STATISTICS fares.s (ndistinct) ON \"a b\", z, (lower(z)), (y) FROM fares.band",
        "CREATE STATISTICS fares.s ON (upper(z)) FROM fares.band | CREATE STATISTICS fares.s ON (upper(z)) FROM fares.band",
      })
  void statisticsHaveTheirColumnsByName(String printed, String kept) {
    assertThat(new Setting("statistics/fares.s", printed).value()).isEqualTo(kept);
    assertThat(new Setting("rule/s", printed).value()).isEqualTo(printed);
  }

  private static TableStructure trips(Setting... settings) {
    return new TableStructure(
        List.of(new Column("day", "date", true, null, null, null, null, null)),
        List.of(),
        List.of(),
        null,
        List.of(settings));
  }

  private static final Setting YEAR =
      new Setting(
          "partition/fares.year",
          "fares.trip FOR VALUES FROM ('2025-01-01') TO ('2026-01-01') PARTITION BY LIST (day)");
  private static final Setting DAY =
      new Setting("partition/fares.a day", "fares.year FOR VALUES IN ('2025-01-01')");
  private static final Setting ODD =
      new Setting("partition/\"fa.res\".\"b\"", "fares.\"a day\" DEFAULT");
  private static final Setting BY = new Setting(Setting.PARTITIONED, "RANGE (day)");

  @Test
  void aPartitionStandsBehindWhatItIsAPartitionOf() {
    assertThat(trips(ODD, DAY, YEAR, BY).partitions()).containsExactly(YEAR, DAY, ODD);
    assertThat(trips(BY).isPartitioned()).isTrue();
    assertThat(trips().isPartitioned()).isFalse();
  }

  @Test
  void partitionsComeAndGoOneByOne() {
    TableName trip = TableName.of("fares.trip");

    assertThat(StructureChange.between(trip, trips(BY), trips(BY, DAY, YEAR)))
        .extracting(c -> c.act() + " " + c.name())
        .containsExactly("ADD_PARTITION fares.year", "ADD_PARTITION fares.a day");
    assertThat(StructureChange.between(trip, trips(BY, DAY, YEAR), trips(BY)))
        .extracting(c -> c.act() + " " + c.name())
        .containsExactly("DROP_PARTITION fares.a day", "DROP_PARTITION fares.year");
    assertThat(StructureChange.between(trip, null, trips(BY, YEAR)))
        .as("with the table comes all of it")
        .extracting(StructureChange::act)
        .doesNotContain(StructureChange.Act.ADD_PARTITION, StructureChange.Act.SET_SETTING);
  }

  /** The server gives it to partitions that are there when it is set, and to none that comes. */
  @Test
  void aPartitionThatComesGetsTheTargetsOfItsTable() {
    Setting target = new Setting(Setting.TARGET + "day", "50");
    Setting distinct = new Setting("n_distinct/day", "5");

    assertThat(
            StructureChange.between(
                TableName.of("fares.trip"),
                trips(BY, target, distinct),
                trips(BY, target, distinct, YEAR)))
        .extracting(c -> c.act() + " " + c.table() + " " + c.name() + " " + c.comment())
        .containsExactlyInAnyOrder(
            "ADD_PARTITION fares.trip fares.year " + YEAR.value(),
            "SET_SETTING fares.year statistics target/day 50");
  }

  @Test
  void partitionsFollowTheNameOfTheirTableAndOfTheirKey() {
    TableName trip = TableName.of("fares.trip");
    TableName ride = TableName.of("fares.ride");
    Renaming names = new Renaming(Map.of(trip, ride), Map.of(ride, Map.of("day", "date on")));

    assertThat(names.of(trip, trips(BY, YEAR)).settings())
        .extracting(Setting::value)
        .containsExactly(
            "fares.ride FOR VALUES FROM ('2025-01-01') TO ('2026-01-01') PARTITION BY LIST (\"date on\")",
            "RANGE (\"date on\")");
  }
}
