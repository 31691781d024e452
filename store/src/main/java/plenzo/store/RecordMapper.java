package plenzo.store;

import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;
import plenzo.core.keeping.Kept.Filter;

/** The statements about tables of records; {@code table} is the code of a {@link Table}. */
public interface RecordMapper {
  int insert(@Param("table") String table, @Param("row") BodyRow row);

  int update(@Param("table") String table, @Param("row") BodyRow row);

  /** The same record in its present form: nothing happened to it. */
  int rewrite(@Param("table") String table, @Param("row") BodyRow row);

  int remove(@Param("table") String table, @Param("id") String id);

  @Nullable BodyRow find(@Param("table") String table, @Param("id") String id);

  default List<BodyRow> list(String table, Filter filter) {
    return listed(table, filter, Matching.where(filter), Matching.order(filter));
  }

  List<BodyRow> listed(
      @Param("table") String table,
      @Param("filter") Filter filter,
      @Param("where") String where,
      @Param("order") String order);

  default long count(String table, Filter filter) {
    return counted(table, filter, Matching.where(filter));
  }

  long counted(
      @Param("table") String table, @Param("filter") Filter filter, @Param("where") String where);

  List<BodyRow> versionsNumbered(@Param("like") String like, @Param("most") int most);

  default List<PromotionRow> promotionHeads(Filter filter) {
    return promotionsListed(filter, Matching.where(filter), Matching.order(filter));
  }

  List<PromotionRow> promotionsListed(
      @Param("filter") Filter filter, @Param("where") String where, @Param("order") String order);

  int headPromotion(PromotionRow row);

  @Nullable String matter(@Param("id") String id);

  @Nullable String matterDigest(@Param("id") String id);

  int insertMatter(
      @Param("id") String id, @Param("digest") String digest, @Param("body") String body);

  int updateMatter(
      @Param("id") String id, @Param("digest") String digest, @Param("body") String body);

  int removeMatter(@Param("id") String id);

  /** Records whose text has a word somewhere. */
  List<BodyRow> holding(@Param("table") String table, @Param("word") String word);

  List<String> mattersHolding(@Param("word") String word);

  /** The same record without a name; whoever read it before must read it again. */
  int blanked(@Param("table") String table, @Param("id") String id, @Param("body") String body);

  int renamePreparer(@Param("login") String login, @Param("as") String as);

  int renameStarter(@Param("login") String login, @Param("as") String as);

  default List<RunRow> runHeads(Filter filter) {
    return runsListed(filter, Matching.where(filter), Matching.order(filter));
  }

  List<RunRow> runsListed(
      @Param("filter") Filter filter, @Param("where") String where, @Param("order") String order);

  int headRun(RunRow row);

  /** Milliseconds from start to end of all that ended so. */
  long runsTook(@Param("state") String state);

  List<BodyRow> runsOf(@Param("promotion") String promotion);
}
