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

  List<BodyRow> list(@Param("table") String table, @Param("filter") Filter filter);

  long count(@Param("table") String table, @Param("filter") Filter filter);

  List<BodyRow> versionsNumbered(@Param("like") String like, @Param("most") int most);

  List<PromotionRow> promotionHeads(@Param("filter") Filter filter);

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

  List<RunRow> runHeads(@Param("filter") Filter filter);

  int headRun(RunRow row);

  /** Milliseconds from start to end of all that ended so. */
  long runsTook(@Param("state") String state);

  List<BodyRow> runsOf(@Param("promotion") String promotion);
}
