import { BarChart, ScatterChart } from 'echarts/charts';
import { DataZoomComponent, GridComponent, TooltipComponent } from 'echarts/components';
import * as echarts from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';

// Only what the charts use is bundled.
echarts.use([ScatterChart, BarChart, GridComponent, TooltipComponent, DataZoomComponent, SVGRenderer]);

export { echarts };
