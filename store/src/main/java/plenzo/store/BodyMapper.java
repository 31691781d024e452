package plenzo.store;

import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;
import plenzo.core.keeping.Kept.Filter;

/** The statements that every table of records has; one mapper document a table. */
public interface BodyMapper {
  int insert(BodyRow row);

  int update(BodyRow row);

  int remove(@Param("id") String id);

  @Nullable BodyRow find(@Param("id") String id);

  List<BodyRow> list(Filter filter);

  interface PersonMapper extends BodyMapper {}

  interface AccessKeyMapper extends BodyMapper {}

  interface StageMapper extends BodyMapper {}

  interface ConnectionMapper extends BodyMapper {}

  interface SecretMapper extends BodyMapper {}

  interface PathMapper extends BodyMapper {}

  interface ApplicationMapper extends BodyMapper {}

  interface VersionMapper extends BodyMapper {}

  interface VersionEntriesMapper extends BodyMapper {}

  interface DraftMapper extends BodyMapper {}

  interface SiteRecordMapper extends BodyMapper {}

  interface PromotionMapper extends BodyMapper {}

  interface RunMapper extends BodyMapper {}

  interface CaptureMapper extends BodyMapper {}

  interface ParcelMapper extends BodyMapper {}

  interface SignerMapper extends BodyMapper {}

  interface BindingMapper extends BodyMapper {}

  interface SourceRecordMapper extends BodyMapper {}

  interface ReleaseMapper extends BodyMapper {}

  interface AnsweredMapper extends BodyMapper {}
}
